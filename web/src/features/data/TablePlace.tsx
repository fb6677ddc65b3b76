import { useState } from 'react'
import type { ListedSource } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { aboutRows } from './aboutRows'
import { placeOf, typedNumber, USUAL_ROWS, USUAL_SEED, wrongRows, type RowsPlace } from './rowsPlace'

const keyOf = (source: string, table: string) => `${source}/${table}`

/** Says which rows of a table that stays elsewhere an origin is. */
export function TablePlace({ sources, rows, set }: { sources: ListedSource[]; rows: RowsPlace | null; set: (place: string) => void }) {
  const [many, setMany] = useState(formatNumber(rows?.rows ?? USUAL_ROWS, 0))
  const [seed, setSeed] = useState(String(rows?.seed ?? USUAL_SEED))
  const tables = sources.flatMap((s) => s.tables.filter((t) => !t.trouble).map((t) => ({ source: s.name, table: t })))
  const here = tables.some((one) => rows && one.source === rows.source && one.table.name === rows.table)
  const wrong = rows ? wrongRows(many, seed) : ''
  const say = (of: { source: string; table: string }, typedRows: string, typedSeed: string, stays = rows?.stays) => {
    if (!wrongRows(typedRows, typedSeed)) set(placeOf({ ...of, rows: typedNumber(typedRows), seed: typedNumber(typedSeed), stays }))
  }
  return (
    <>
      <label htmlFor="origin-table">Rows of a table</label>
      <select
        id="origin-table"
        className="field max-w-md"
        value={rows ? keyOf(rows.source, rows.table) : ''}
        onChange={(e) => {
          const chosen = tables.find((one) => keyOf(one.source, one.table.name) === e.target.value)
          if (!chosen) return set('')
          say({ source: chosen.source, table: chosen.table.name }, many, seed)
        }}
      >
        <option value="">{rows ? 'none' : 'choose one…'}</option>
        {rows && !here && <option value={keyOf(rows.source, rows.table)}>{`${rows.table} in ${rows.source} (not there now)`}</option>}
        {tables.map(({ source, table }) => (
          <option key={keyOf(source, table.name)} value={keyOf(source, table.name)}>
            {`${table.name} in ${source}, ${aboutRows(table)}`}
          </option>
        ))}
      </select>
      {rows && (
        <>
          <label htmlFor="origin-rows">At most</label>
          <span className="flex flex-wrap items-center gap-2 text-[14px]">
            <input
              id="origin-rows"
              className="field w-32"
              inputMode="numeric"
              value={many}
              onChange={(e) => {
                setMany(e.target.value)
                say(rows, e.target.value, seed)
              }}
            />
            rows, drawn at random with
            <label htmlFor="origin-seed">seed</label>
            <input
              id="origin-seed"
              className="field w-28"
              inputMode="numeric"
              value={seed}
              onChange={(e) => {
                setSeed(e.target.value)
                say(rows, many, e.target.value)
              }}
            />
            {wrong && (
              <span role="alert" className="text-[13px] text-copper">
                {wrong}; kept as it was
              </span>
            )}
          </span>
          <label htmlFor="origin-stays">Its charts</label>
          <span className="flex items-center gap-2 text-[14px]">
            <input
              id="origin-stays"
              type="checkbox"
              className="accent-verdigris"
              checked={rows.stays ?? false}
              onChange={(e) => say(rows, many, seed, e.target.checked)}
            />
            ask all rows of the table, where it is
          </span>
        </>
      )}
    </>
  )
}
