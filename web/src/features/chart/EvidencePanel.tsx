import { useQuery } from '@tanstack/react-query'
import { useRef } from 'react'
import { api, type Amendment, type Document, type Evidence } from '../../api/client'
import type { Bench } from '../../state/bench'
import { columnSaid, textLine } from '../../sentence/lines'
import { useFocusHere } from '../../ui/focus'
import { inThemes } from '../../ui/themes'
import { IntervalBar, IntervalTicks } from './IntervalBar'
import { Said } from './Said'
import { AskBeside, exactOf } from '../elsewhere/AskBeside'
import { useBench } from '../../state/useBench'
import { useExplanations } from './useExplanations'
import { verdictWash } from './verdicts'

type Row = NonNullable<Evidence['rows']>[number]

/** What stands behind the finding of one column, and what can be done about it. */
export function EvidencePanel({
  bench,
  column,
  examine,
  sample,
  asks,
}: {
  bench: Bench
  column: string
  examine: (column: string | null) => void
  /** How many rows the sample has, where the table stays elsewhere. */
  sample: string
  /** Whether all rows of such a table may be asked. */
  asks: boolean
}) {
  const { document, drawing } = useBench(bench, 'document', 'drawing')
  const relation = drawing?.relation
  const found = useExplanations(bench.version, relation)
  const evidence = useQuery({
    queryKey: ['evidence', bench.version, relation, column],
    queryFn: ({ signal }) => api.evidence(bench.version, relation!, column, signal),
    enabled: relation !== undefined,
    staleTime: Infinity,
    placeholderData: (before) => (before?.column === column ? before : undefined), // what is pressed stays while it is looked at anew
  })
  const tried = (found.data?.findings ?? []).filter((f) => !f.with)
  const at = tried.findIndex((f) => f.column === column)
  const finding = tried[at]
  const shown = evidence.data
  const panel = useRef<HTMLElement>(null)
  useFocusHere(panel, column)
  return (
    <aside
      ref={panel}
      aria-label="Evidence"
      tabIndex={0}
      className="w-[532px] shrink-0 overflow-auto border-l border-line bg-strip px-5.5 py-4 max-[1100px]:w-[440px] slim:w-full slim:border-t slim:border-l-0"
    >
      <nav aria-label="Columns that were tried" className="flex items-baseline gap-2 text-[13px] text-muted">
        <button type="button" className="link" onClick={() => examine(null)}>
          Reading
        </button>
        <span aria-hidden>›</span>
        <span className="flex-1">What else could explain it?</span>
        {at >= 0 && (
          <>
            <span className="tabular-nums">
              {at + 1} of {tried.length} tried
            </span>
            <Turn to={tried[at - 1]?.column} sign="‹" name="The one before" examine={examine} />
            <Turn to={tried[at + 1]?.column} sign="›" name="The next one" examine={examine} />
          </>
        )}
      </nav>
      {evidence.error && <p className="mt-3 text-copper">{evidence.error.message}</p>}
      {evidence.isPending && (
        <p role="status" className="mt-3 text-muted">
          Looking at {column}…
        </p>
      )}
      {shown && (
        <>
          <div className="mt-2 flex items-center gap-3">
            <h2 className="min-w-0 truncate font-serif text-[22px] font-semibold" title={shown.name}>
              {shown.name}
            </h2>
            {finding && (
              <span className={`shrink-0 rounded-full px-3 py-0.5 text-[13px] font-semibold text-ink ${verdictWash(finding.verdict)}`}>
                {finding.verdict}
              </span>
            )}
          </div>
          {drawing?.figure.elsewhere && relation && (
            <AskBeside
              bench={bench}
              whole={shown.elsewhere}
              asker={{ document: relation, for: 'evidence', column }}
              exact={exactOf([shown.basis])}
              sample={sample}
              asks={asks}
            />
          )}
          {shown.problem ? (
            <p className="mt-2 font-serif text-base">{shown.problem}</p>
          ) : (
            <Grounds shown={shown} groups={found.data?.groups ?? false} />
          )}
          <Actions
            bench={bench}
            document={document}
            column={column}
            splits={finding?.splits ?? false}
            sound={!shown.problem}
            groups={found.data?.groups ?? false}
            why={shown.problem ? '' : (shown.why ?? []).map((s) => s.text).join('')}
          />
        </>
      )}
    </aside>
  )
}

function Turn({ to, sign, name, examine }: { to?: string; sign: string; name: string; examine: (column: string) => void }) {
  return (
    <button
      type="button"
      className="px-1.5 text-lg leading-4 text-copper disabled:text-line"
      aria-label={name}
      disabled={!to}
      onClick={() => to && examine(to)}
    >
      {sign}
    </button>
  )
}

function Grounds({ shown, groups }: { shown: Evidence; groups: boolean }) {
  return (
    <>
      <p className="mt-1.5 font-serif text-base leading-[1.45]">
        <Said spans={shown.why} />
      </p>
      {shown.identity && (
        <p className="mt-2.5 flex flex-wrap gap-x-4 gap-y-1 text-sm font-semibold tabular-nums" aria-label="How the slope overall is made">
          <Term value={`${shown.identity.share} × (${shown.identity.between})`} of="between groups" />
          <span aria-hidden>+</span>
          <Term value={`${shown.identity.rest} × (${shown.identity.within})`} of="within groups" />
          <span aria-hidden>=</span>
          <Term value={shown.identity.overall} of="overall" />
        </p>
      )}
      <Table shown={shown} groups={groups} />
      {shown.standard?.map((words) => (
        <p key={words} className="mt-1.5 text-sm leading-[1.45]">
          {words}
        </p>
      ))}
      {shown.left && <p className="mt-1 text-[13px] text-muted">{shown.left}.</p>}
      <p className="mt-3 border-t border-line pt-3 text-sm leading-[1.45]">
        <Said spans={shown.hidden} />
      </p>
      {(shown.bounds?.length ?? 0) > 0 && (
        <details className="mt-1 text-[13px]">
          <summary className="cursor-pointer text-copper">The numbers</summary>
          <ul className="mt-1 flex flex-col gap-0.5 tabular-nums">
            {shown.bounds!.map((bound) => (
              <li key={bound}>{bound}</li>
            ))}
          </ul>
        </details>
      )}
      <p className="mt-1.5 text-[13px] leading-[1.4] text-muted">{shown.beware}</p>
    </>
  )
}

const Term = ({ value, of }: { value: string; of: string }) => (
  <span>
    {value}
    <span className="block text-xs font-normal text-muted">{of}</span>
  </span>
)

/** The groups one by one, with every interval on one axis. */
function Table({ shown, groups }: { shown: Evidence; groups: boolean }) {
  const ticks = shown.ticks ?? []
  const head = 'py-1 pl-2 text-right align-bottom font-normal'
  return (
    <table className="mt-3 w-full text-[13px] tabular-nums">
      <thead className="text-muted">
        <tr>
          <th className="text-left align-bottom text-xs font-normal">x from … to …</th>
          <th scope="col" className={head}>
            n
          </th>
          <th scope="col" className={`${head} max-[1100px]:hidden`}>
            centre{shown.unit_x && `, ${shown.unit_x}`}
          </th>
          <th scope="col" className={`${head} max-[1100px]:hidden`}>
            centre{shown.unit_y && `, ${shown.unit_y}`}
          </th>
          {shown.size && (
            <th scope="col" className={`${head} max-[1100px]:hidden`}>
              mean {shown.size}
            </th>
          )}
          <th scope="col" className={head}>
            {groups ? 'difference' : 'slope'}
          </th>
          <th scope="col" className={`${head} whitespace-nowrap`}>
            95 % interval
          </th>
          <th scope="col" className="py-1 pl-3 text-left align-bottom font-normal">
            {shown.unit}
          </th>
        </tr>
      </thead>
      <tbody>
        {shown.rows?.map((row, i) => (
          <tr key={i} className={row.role === 'group' ? '' : `font-semibold ${row.role === 'within' ? 'border-b border-line' : ''}`}>
            <th scope="row" className="max-w-32 py-1 text-left font-[inherit]">
              <span className="flex items-center gap-2">
                <Sign row={row} />
                <span className="min-w-0">
                  <span className="block truncate" title={row.name}>
                    {row.name}
                  </span>
                  {row.span && <span className="block truncate text-xs font-normal text-muted">{row.span}</span>}
                </span>
              </span>
            </th>
            <td className="py-1 pl-2 text-right">{row.n}</td>
            <td className="py-1 pl-2 text-right whitespace-nowrap max-[1100px]:hidden">{row.centre_x}</td>
            <td className="py-1 pl-2 text-right whitespace-nowrap max-[1100px]:hidden">{row.centre_y}</td>
            {shown.size && <td className="py-1 pl-2 text-right whitespace-nowrap max-[1100px]:hidden">{row.size}</td>}
            <td className="py-1 pl-2 text-right font-semibold">{row.slope}</td>
            <td className="py-1 pl-2 text-right whitespace-nowrap">{row.interval}</td>
            <td className="w-28 pl-3">
              <IntervalBar place={row} ticks={ticks} colours={coloursOf(row)} upright={row.role !== 'group'} />
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={4} />
          <td colSpan={shown.size ? 3 : 2} className="max-[1100px]:hidden" />
          <td className="pl-3">
            <IntervalTicks ticks={ticks} />
          </td>
        </tr>
      </tfoot>
    </table>
  )
}

const coloursOf = (row: Row): [string | undefined, string][] =>
  row.light
    ? inThemes(row.light, row.dark)
    : [[row.role === 'within' ? 'var(--verdigris)' : row.role === 'overall' ? 'var(--ink)' : 'var(--muted)', '']]

function Sign({ row }: { row: Row }) {
  if (row.role === 'overall')
    return (
      <svg width={12} height={12} aria-hidden className="shrink-0">
        <path d="M0 6h4.5M7 6h4.5" stroke="var(--ink)" strokeWidth={2.4} />
      </svg>
    )
  if (row.role === 'within')
    return (
      <svg width={12} height={12} aria-hidden className="shrink-0">
        <path d="M0 6h12" stroke="var(--verdigris)" strokeWidth={2.4} />
      </svg>
    )
  return (
    <>
      {inThemes(row.light ?? 'var(--muted)', row.dark ?? 'var(--muted)').map(([colour, when]) => (
        <svg key={when} width={12} height={12} aria-hidden className={`shrink-0 ${when}`}>
          <rect x={1} y={1} width={10} height={10} rx={2.5} fill={colour} />
        </svg>
      ))}
    </>
  )
}

/** Split by it, panels by it, take it out: each once more takes it back. */
function Actions({
  bench,
  document,
  column,
  splits,
  sound,
  groups,
  why,
}: {
  bench: Bench
  document: Document
  column: string
  splits: boolean
  sound: boolean
  groups: boolean
  why: string
}) {
  const isSplit = groups
    ? document.colour?.column === column
    : (document.layers ?? []).some((l) => l.fit?.each === column) && document.rows?.take_out !== column
  const isPanelled = document.panels?.by?.includes(column) ?? false
  const isCentred = (document.layers ?? []).some((l) => l.mark === 'centres' && l.by === column)
  const isOut = document.rows?.take_out === column
  const amend = (amendment: Amendment) => void bench.amend(amendment)
  return (
    <div className="sticky -bottom-4 -mx-5.5 mt-2 flex flex-wrap items-center gap-2.5 bg-strip px-5.5 py-3">
      {splits && (
        <Choice
          on={isSplit}
          words={['Split by it']}
          press={() =>
            amend(
              groups
                ? isSplit
                  ? { drop: ['colour'] }
                  : { say: [`colour by ${columnSaid(column)}`] }
                : isSplit
                  ? { unite: column }
                  : { split: column },
            )
          }
        />
      )}
      {splits && (
        <Choice
          on={isPanelled}
          words={['Panels by it']}
          press={() => amend(isPanelled ? { drop: ['panels'] } : { say: [`panels by ${columnSaid(column)}`] })}
        />
      )}
      {splits && sound && !groups && (
        <Choice
          on={isCentred}
          words={['Centres']}
          press={() => amend(isCentred ? { drop: ['centres of'] } : { say: [`centres of ${columnSaid(column)}`] })}
        />
      )}
      {sound && !groups && (
        <Choice
          on={isOut}
          words={['Take it out', 'Taken out']}
          press={() => amend(isOut ? { drop: ['take out'] } : { say: [`take out ${columnSaid(column)}`] })}
        />
      )}
      {why && !document.manner?.note?.includes(why) && (
        <button
          type="button"
          className="link ml-auto text-[13px]"
          onClick={() => amend({ say: textLine('note', document.manner?.note ? `${document.manner?.note}\n${why}` : why) })}
        >
          add to the note
        </button>
      )}
    </div>
  )
}

function Choice({ on, words, press }: { on: boolean; words: [string, on?: string]; press: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={press}
      className={`rounded-lg border px-3.5 py-1.5 text-[13.5px] ${on ? 'border-ink bg-ink font-semibold text-paper' : 'border-line bg-paper hover:border-copper hover:text-copper'}`}
    >
      {on && <span aria-hidden>✓ </span>}
      {(on && words[1]) || words[0]}
    </button>
  )
}
