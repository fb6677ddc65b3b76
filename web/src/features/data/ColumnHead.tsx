import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import type { ColumnProfile } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'
import { inForm } from '../../scale/said'
import { ColumnPicture } from '../../ui/ColumnPicture'
import { KindSign } from '../../ui/KindSign'
import { useMakes } from '../../ui/may'
import { Disc } from '../notes/Thread'
import { isAmount, isSpread, KINDS } from '../../ui/kinds'
import { columnText, valueText } from '../../sentence/quoting'
import { over } from '../../ui/over'

/** Days alone, unless all is within one. */
function datesOf(low: string, high: string): string {
  return low.slice(0, 10) === high.slice(0, 10) ? `${low} – ${high.slice(11) || high}` : `${low.slice(0, 10)} – ${high.slice(0, 10)}`
}

/** A number in the form of its column. */
function written(c: ColumnProfile, text: string): string {
  const plain = formatNumber(Number(text), c.decimals ?? 0)
  return c.form ? inForm(c.form, Number(text), plain) : plain
}

function rangeOf(c: ColumnProfile): string {
  if (c.kind === 'text') return `${formatNumber(c.distinct, 0)} different`
  if (isAmount(c.kind)) return c.low ? `${written(c, c.low)} – ${written(c, c.high!)}` : 'no values'
  if (c.kind === 'date') return c.low ? datesOf(c.low, c.high!) : 'no values'
  if (c.kind === 'yes / no') {
    const bars = c.bars ?? []
    const all = bars.reduce((sum, b) => sum + b.count, 0)
    return all ? `${Math.round((100 * (bars[1]?.count ?? 0)) / all)} % ${bars[1]?.name ?? 'yes'}` : 'no values'
  }
  return `${c.distinct} ${c.distinct === 1 ? 'group' : 'groups'}`
}

/** The clause that keeps the rows of one bar of a column's picture. */
export function keepBar(c: ColumnProfile, i: number): string {
  const bar = c.bars![i]
  const name = columnText(c.name)
  if (c.kind === 'yes / no') return `keep ${i === 1 ? '' : 'not '}${name}`
  if (isAmount(c.kind)) return `keep ${name} between ${short(bar.from ?? 0)} and ${short(bar.to ?? 0)}`
  if (c.kind === 'date') return `keep ${name} between '${moment(bar.from ?? 0)}' and '${moment(bar.to ?? 0)}'`
  return `keep ${name} = ${valueText(bar.name!)}`
}

const short = (v: number) => String(Number(v.toPrecision(7)))
const moment = (seconds: number) => new Date(seconds * 1000).toISOString().slice(0, 19).replace('T', ' ').replace(' 00:00:00', '')

interface Props {
  column: ColumnProfile
  rows: number
  sorted?: 'ascending' | 'descending'
  found: boolean
  sort: (descending: boolean | null) => void
  add: (text: string) => void
  begin: (text: string) => void
  explain: () => void
  groups: () => void
  /** How many open notes are on it; what shows them, or writes one. */
  notes: number
  note: (writes: boolean) => void
}

/** The head of a column: what it is, what it holds, and what can be done with it. */
export function ColumnHead({ column, rows, sorted, found, sort, add, begin, explain, groups, notes, note }: Props) {
  const share = rows === 0 ? 0 : column.missing / rows
  const name = columnText(column.name)
  const makes = useMakes()
  return (
    <div
      className={`relative flex h-full flex-col text-[13px] ${found ? '-m-2 rounded-md bg-copper-wash p-2' : ''}`}
      title={column.meaning}
    >
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          className="h-6 shrink-0 truncate text-left text-sm font-semibold hover:text-copper"
          title={column.name}
          aria-label={`${column.label}: what can be done with it`}
        >
          {column.label}
          {sorted && <span aria-label={`sorted, ${sorted}`}> {sorted === 'ascending' ? '↑' : '↓'}</span>}
        </DropdownMenu.Trigger>
        <Menu>
          <Item say={() => sort(sorted === 'ascending' ? null : false)}>
            {sorted === 'ascending' ? 'Rows in the table’s own order' : 'Look at rows from the lowest'}
          </Item>
          <Item say={() => sort(sorted === 'descending' ? null : true)}>
            {sorted === 'descending' ? 'Rows in the table’s own order' : 'Look at rows from the highest'}
          </Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <Item say={() => begin(`keep ${name} `)}>Keep rows where it is …</Item>
          <Item say={() => add(`leave out missing ${name}`)}>Leave out rows that miss it</Item>
          <Item say={() => begin(`work out new_column = ${name} `)}>Work out a column from it …</Item>
          <Item say={() => add(`sort by ${name}`)}>Sort the table by it</Item>
          <Item say={() => add(`drop duplicates of ${name}`)}>Keep one row for each of its values</Item>
          {column.missing > 0 && <Item say={() => add(`fill down ${name}`)}>Fill gaps with the value above</Item>}
          {isAmount(column.kind) ? (
            <>
              <Item say={() => begin(`work out log_${column.name.replace(/\W+/g, '_')} = ln(${name})`)}>Its logarithm …</Item>
              <Item say={() => begin(`bin ${name} in 4 equal counts into ${column.name.replace(/\W+/g, '_')}_band`)}>
                Cut it into groups …
              </Item>
            </>
          ) : (
            <>
              {!isSpread(column.kind) && <Item say={groups}>All its groups with their counts …</Item>}
              <Item say={() => begin(`for each ${name}: `)}>Sum up for each of its groups …</Item>
              <Item say={() => begin(`order ${name} by `)}>Order its groups by …</Item>
              <Item say={() => begin(`recode ${name}: `)}>Gather its groups under names …</Item>
            </>
          )}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <Item say={() => begin(`rename ${name} to `)}>Rename it …</Item>
          <Item say={() => add(`drop columns ${name}`)}>Drop it</Item>
          <Item say={explain}>What it means …</Item>
          {makes && <Item say={() => note(true)}>Write a note on it …</Item>}
        </Menu>
      </DropdownMenu.Root>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          className="flex h-6 shrink-0 items-center gap-1.5 truncate text-left text-copper hover:underline"
          aria-label={`${column.label} is read as ${column.kind}`}
        >
          <KindSign kind={column.kind} className="size-3.5" />
          {column.kind}
          {column.unit && ` · ${column.unit}`}
        </DropdownMenu.Trigger>
        <Menu>
          {KINDS.map(({ name: kind, such }) => (
            <Item key={kind} say={() => kind !== column.kind && add(`read ${name} as ${kind.replaceAll(' ', '')}`)}>
              <KindSign kind={kind} className="size-3.5" />
              <span>
                read as {kind}
                <span className="block text-xs text-muted">{such}</span>
              </span>
              {kind === column.kind && <span className="ml-auto pl-3 text-muted">now</span>}
            </Item>
          ))}
        </Menu>
      </DropdownMenu.Root>
      {notes > 0 && (
        <button
          type="button"
          className="absolute top-0 right-0 grid size-6 place-items-center"
          aria-label={`${counted(notes, 'note')} on ${column.label}`}
          title={`${counted(notes, 'note')} on it`}
          onClick={() => note(false)}
        >
          <Disc number={notes} />
        </button>
      )}
      <span className="truncate text-muted tabular-nums">{rangeOf(column)}</span>
      <span className="mt-1 block h-9">
        <ColumnPicture column={column} width={110} height={34} named press={(i) => add(keepBar(column, i))} />
      </span>
      <span
        className="mt-auto flex h-1 overflow-hidden rounded-full bg-line forced-color-adjust-none"
        title={
          column.missing
            ? `${formatNumber(column.missing, 0)} missing (${(100 * share).toFixed(1)} %); the bar shows where, from the first row to the last`
            : 'none missing'
        }
      >
        {(column.gaps ?? []).map((gap, i) => (
          <span key={i} className="h-full flex-1 bg-copper" style={{ opacity: gap === 0 ? 0 : 0.25 + 0.75 * Math.min(1, gap) }} />
        ))}
      </span>
      <span className="mt-0.5 text-xs text-muted">{column.missing ? `${formatNumber(column.missing, 0)} missing` : 'none missing'}</span>
    </div>
  )
}

function Menu({ children }: { children: ReactNode }) {
  return (
    <DropdownMenu.Portal container={over()}>
      <DropdownMenu.Content
        align="start"
        sideOffset={4}
        collisionPadding={12}
        className="z-20 min-w-52 rounded-lg border border-line bg-strip p-1.5 text-sm text-ink shadow-xl"
      >
        {children}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  )
}

function Item({ say, children }: { say: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      onSelect={say}
      className="flex cursor-pointer items-center gap-2 rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
    >
      {children}
    </DropdownMenu.Item>
  )
}
