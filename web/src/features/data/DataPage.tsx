import { useQuery } from '@tanstack/react-query'
import { DropdownMenu, Tabs } from 'radix-ui'
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { inSpace } from '../../api/space'
import { api, type ColumnProfile, type Dataset, type DatasetWithColumns, type Me, type Note, type Version } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'
import { useChosenRows } from '../../state/chosen'
import { useMakes } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { SampleSign } from '../../ui/SampleSign'
import { Trouble, Waiting, Words } from '../../ui/Words'
import { MovedCharts, type AskMoved } from '../again/MovedCharts'
import { PastedSentence } from '../again/pasted'
import { Dialog } from '../../ui/Dialog'
import { useNoteOfAddress } from '../notes/useChartNotes'
import { useNotes } from '../notes/useNotes'
import { Others } from '../together/Others'
import { useSubject } from '../together/useSubject'
import { AllGroups } from './AllGroups'
import { BringFile } from './BringFile'
import { cellKey, MOST_BY_HAND, TypedCells, type Typed } from './ByHand'
import { ColumnHead } from './ColumnHead'
import { DatasetNotes } from './DatasetNotes'
import { NewerVersion, useDatasetChanged } from './NewerVersion'
import { Meanings } from './Meanings'
import { PreparationSentence } from './Preparation'
import { PLAIN_LOOK, Rows, type Look } from './Rows'
import { Summary } from './Summary'
import { TypePreparation } from './TypePreparation'
import { usePreparation, type Preparation } from './usePreparation'
import { over } from '../../ui/over'

/** The Data view: the sentence of preparation over the rows. */
export function DataPage({ me }: { me: Me }) {
  const id = Number(useParams().dataset)
  const data = useQuery({ queryKey: ['dataset', id], queryFn: () => api.dataset(id) })
  const versions = useQuery({ queryKey: ['versions', id], queryFn: () => api.versions(id) })
  const draft = useQuery({ queryKey: ['draft', id], queryFn: () => api.draft(id), staleTime: Infinity })
  const fault = data.error ?? versions.error ?? draft.error
  if (fault) return <Words title="This dataset cannot be opened" text={fault.message} />
  // Just after a version was kept, one of the two answers is older than the other.
  if (!data.data || !versions.data || !draft.data || versions.data[0].id !== data.data.dataset.version_id)
    return <Waiting what="Opening the dataset" />
  return <OpenData key={data.data.dataset.version_id} me={me} data={data.data} versions={versions.data} draft={draft.data.typed} />
}

function OpenData({ me, data, versions, draft }: { me: Me; data: DatasetWithColumns; versions: Version[]; draft: string }) {
  const preparation = usePreparation(data, versions, draft)
  const makes = useMakes()
  const [typing, setTyping] = useState(false)
  const [begun, setBegun] = useState<string | null>(null) // the text of a clause that is being added
  const [tab, setTab] = useState('rows')
  const [explained, setExplained] = useState('')
  const notes = useNotes(
    useMemo(() => ({ dataset_id: data.dataset.id }), [data.dataset.id]),
    data.dataset.version_id,
  )
  const [noting, setNoting] = useState('') // the column on which a note is being written
  const [lit, setLit] = useState(0)
  const [changes, setChanges] = useState(false)
  const showNote = useCallback((note: Note) => {
    setLit(note.id)
    setTab('notes')
  }, [])
  useNoteOfAddress(notes.notes, showNote)
  const together = useSubject('datasets', data.dataset.id, me, useDatasetChanged(data.dataset))
  const [counting, setCounting] = useState<ColumnProfile | null>(null) // whose groups are listed
  const [look, setLook] = useState<Look>(PLAIN_LOOK)
  const [stand, setStand] = useState<{ at: 'first' | 'last'; time: number }>({ at: 'first', time: 0 })
  const [seen, setSeen] = useState(0)
  // Typed into are the rows as they came: clauses would stand between what is typed and what is seen.
  const byHand = look.which === 'all' && preparation.clauses.length === 0 && !preparation.changed && preparation.rows <= MOST_BY_HAND
  const [cells, setCells] = useState<Typed | null>(null)
  const typeCell = (row: number, column: string, value: string) =>
    setCells((now) => new Map(now).set(cellKey(row, column), { row, column, value }))
  const find = useDeferredValue(look.find)
  const everywhere = useChosenRows(preparation.dataset.version_id)
  const chosen = look.which === 'left out' || preparation.changed ? null : everywhere // of the rows that charts draw
  useUndoKeys(preparation)
  const leftOut = look.which === 'left out'
  const columns = leftOut ? (preparation.original?.columns ?? []) : preparation.columns
  const rows = leftOut ? preparation.base.rows : preparation.rows
  const shown = leftOut ? { version: preparation.base.id, typed: preparation.typed } : preparation.shown
  const sort = (column: ColumnProfile) => (descending: boolean | null) =>
    setLook({ ...look, sort: descending === null ? '' : column.name, descending: descending ?? false })
  const found = (c: ColumnProfile) =>
    find.trim().length > 1 && [c.name, c.label].some((name) => name.toLowerCase().includes(find.trim().toLowerCase()))
  return (
    <Shell me={me} dataset={preparation.dataset} view="Data" others={<Others here={together.others} />}>
      <section
        aria-label="Sentence"
        className="flex max-h-[40vh] shrink-0 items-start gap-6 overflow-auto border-b border-line bg-strip px-5.5 py-2.5"
      >
        {typing ? (
          <TypePreparation preparation={preparation} done={() => setTyping(false)} />
        ) : (
          <>
            <PreparationSentence preparation={preparation} begun={begun} setBegun={setBegun} />
            <button type="button" className="button-plain shrink-0 text-[13px]" onClick={() => setTyping(true)}>
              Type it
            </button>
          </>
        )}
      </section>
      <Tried preparation={preparation} typing={typing} />
      <NewerVersion dataset={preparation.dataset} draft={preparation.changed} />
      {!together.connected && (
        <p role="status" className="shrink-0 border-b border-line px-5.5 py-1.5 text-[13px] text-copper">
          No connection: what others do is not seen; what you try stays here, and is kept once it is back.
        </p>
      )}
      <Tabs.Root value={tab} onValueChange={setTab} asChild>
        <main className="flex min-h-0 flex-1 flex-col gap-3 px-5.5 py-3 slim:h-[max(85vh,420px)] slim:flex-none slim:px-3 short:h-[440px] short:flex-none">
          <div className="flex items-center gap-3 slim:flex-wrap">
            <Tabs.List
              aria-label="What to see of the data"
              className="flex shrink-0 overflow-hidden rounded-lg border border-line bg-strip"
            >
              {[
                ['rows', 'Rows'],
                ['summary', 'Summary'],
                ['meanings', 'Meanings'],
                ['notes', notes.notes.length > 0 ? `Notes ${notes.notes.filter((n) => !n.resolved_at).length}` : 'Notes'],
              ].map(([value, name]) => (
                <Tabs.Trigger
                  key={value}
                  value={value}
                  className="px-3.5 py-1.5 hover:text-copper focus-visible:-outline-offset-2 data-[state=active]:bg-bar data-[state=active]:font-semibold data-[state=active]:text-bar-ink"
                >
                  {name}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            <input
              type="search"
              className="field max-w-56 py-1.5"
              placeholder="Find a column or value…"
              aria-label="Find a column or value"
              value={look.find}
              onChange={(e) => setLook({ ...look, find: e.target.value })}
            />
            <p className="min-w-0 flex-1 truncate text-[13px] tabular-nums slim:order-last slim:w-full slim:flex-none" aria-live="polite">
              {counted(rows, 'row')}
              {preparation.dataset.one_row && preparation.clauses.length === 0 && `, each ${preparation.dataset.one_row}`} ·{' '}
              {counted(columns.length, 'column')}
              {versions.length > 1 && !preparation.changed && ` · version ${preparation.newest.number}`}
              {find.trim() && tab === 'rows' && ` · ${formatNumber(seen, 0)} found`}
              {chosen && tab === 'rows' && ` · ${formatNumber(chosen.length, 0)} chosen on a chart`}
            </p>
            {tab === 'rows' && (
              <Looks preparation={preparation} look={look} setLook={setLook} stand={(at) => setStand({ at, time: stand.time + 1 })} />
            )}
            {makes && (
              <>
                <BringFile
                  dataset={preparation.dataset}
                  changes={versions.length > 1 ? () => setChanges(true) : undefined}
                  type={byHand ? () => (setTab('rows'), setCells(new Map())) : undefined}
                />
                <Download version={preparation.dataset.version_id} />
              </>
            )}
          </div>
          {preparation.dataset.drawn && (
            <div className="border-b border-line bg-strip px-4 py-1.5">
              <SampleSign drawn={preparation.dataset.drawn} />
            </div>
          )}
          <Tabs.Content value="rows" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            <Rows
              version={shown.version}
              typed={shown.typed}
              look={{ ...look, find }}
              columns={columns}
              stand={stand}
              clauses={preparation.clauses.map((c) => c.text)}
              counted={setSeen}
              chosen={chosen}
              typing={byHand && cells ? { typed: cells, type: typeCell } : null}
              head={(c) => (
                <ColumnHead
                  column={c}
                  rows={rows}
                  found={found(c)}
                  sorted={look.sort === c.name ? (look.descending ? 'descending' : 'ascending') : undefined}
                  sort={sort(c)}
                  add={(text) => preparation.change([...preparation.clauses, { text }])}
                  begin={(text) => {
                    setTyping(false)
                    setBegun(text)
                  }}
                  groups={() => setCounting(c)}
                  notes={notes.notes.filter((n) => n.spot.kind === 'column' && n.spot.column === c.name && !n.resolved_at).length}
                  note={(writes) => {
                    setNoting(writes ? c.name : '')
                    setTab('notes')
                  }}
                  explain={() => {
                    setExplained(c.name)
                    setTab('meanings')
                  }}
                />
              )}
            />
            {byHand && cells && (
              <div className="mt-3">
                <TypedCells dataset={preparation.dataset} next={preparation.newest.number + 1} typed={cells} leave={() => setCells(null)} />
              </div>
            )}
          </Tabs.Content>
          <Tabs.Content value="summary" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            <Summary
              version={preparation.shown.version}
              typed={preparation.shown.typed}
              find={find}
              sample={formatNumber(preparation.dataset.rows, 0)}
              asks={makes}
            />
          </Tabs.Content>
          <Tabs.Content value="meanings" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            <Meanings dataset={preparation.dataset} columns={data.columns ?? []} focus={explained} find={find} together={together} />
          </Tabs.Content>
          <Tabs.Content value="notes" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            <DatasetNotes
              hand={notes}
              me={me}
              columns={data.columns ?? []}
              column={noting}
              version={preparation.dataset.version_id}
              chosen={chosen}
              lit={lit}
              done={() => setNoting('')}
            />
          </Tabs.Content>
        </main>
      </Tabs.Root>
      {changes && <VersionChanges dataset={preparation.dataset} close={() => setChanges(false)} />}
      <PastedSentence dataset={preparation.dataset} />
      {counting && (
        <AllGroups
          {...shown}
          column={counting}
          keep={(text) => {
            setCounting(null)
            preparation.change([...preparation.clauses, { text }])
          }}
          close={() => setCounting(null)}
        />
      )}
    </Shell>
  )
}

/** What the newest version changes of charts that stand over others. */
function VersionChanges({ dataset, close }: { dataset: Dataset; close: () => void }) {
  const ask: AskMoved = useCallback(
    (from, signal) => api.moved(dataset.id, dataset.version_id, from, signal),
    [dataset.id, dataset.version_id],
  )
  return (
    <Dialog title={`What version ${dataset.version} changes of charts`} onClose={close}>
      <p className="mb-3 text-[14px]">
        These charts stand over other versions of {dataset.name}, and stay there until they are moved over. The most moved come first.
      </p>
      <MovedCharts ask={ask} version={dataset.version_id} dataset={dataset.id} />
    </Dialog>
  )
}

/** While something is tried: what is wrong with it, and the ways to keep, undo or leave it. */
function Tried({ preparation: p, typing }: { preparation: Preparation; typing: boolean }) {
  const makes = useMakes()
  if (!p.changed && !p.trouble && !p.redo) return null
  return (
    <div className="flex shrink-0 items-center gap-3 border-b border-line bg-strip px-5.5 py-2">
      {p.mistake && !typing && <Trouble message={p.mistake.message} advice={p.mistake.advice} />}
      {p.trouble && <Trouble message={p.trouble.message} advice={p.trouble.advice} />}
      {p.fault && <Trouble message={p.fault.message} />}
      <p className="ml-auto text-[13px] text-muted">
        {p.changed &&
          (makes
            ? 'What you see is your draft: it stays until you keep or leave it, and charts stay on their version.'
            : 'You read in this space: what you try here is not kept.')}
      </p>
      <button type="button" className="button-plain" disabled={!p.undo} onClick={p.undo}>
        Undo
      </button>
      <button type="button" className="button-plain" disabled={!p.redo} onClick={p.redo}>
        Redo
      </button>
      <button type="button" className="button-plain" disabled={!p.changed} onClick={p.leave}>
        Leave as it was
      </button>
      {makes && (
        <button
          type="button"
          className="button-bright"
          disabled={!p.changed || Boolean(p.result?.mistake) || p.fetching || p.clauses.length === 0}
          onClick={p.keep}
        >
          Keep as version {p.newest.number + 1}
        </button>
      )}
    </div>
  )
}

function Looks({
  preparation,
  look,
  setLook,
  stand,
}: {
  preparation: Preparation
  look: Look
  setLook: (look: Look) => void
  stand: (at: 'first' | 'last') => void
}) {
  const gone = preparation.result?.left_out ?? 0
  const all = (at: 'first' | 'last') => {
    setLook({ ...look, which: 'all' })
    stand(at)
  }
  const here = (on: boolean) => `whitespace-nowrap ${on ? 'font-semibold' : 'link'}`
  return (
    <p className="flex shrink-0 gap-1.5 text-[13px] text-muted">
      <button type="button" className={here(false)} onClick={() => all('first')}>
        first rows
      </button>
      ·
      <button type="button" className={here(false)} onClick={() => all('last')}>
        last rows
      </button>
      ·
      <button
        type="button"
        className={here(look.which === 'random')}
        title="Press again for other rows"
        onClick={() => setLook({ ...look, which: 'random', seed: look.seed + 1 })}
      >
        random 100
      </button>
      {preparation.clauses.length > 0 && (
        <>
          ·
          <button
            type="button"
            className={here(look.which === 'left out')}
            onClick={() => setLook({ ...look, which: look.which === 'left out' ? 'all' : 'left out', sort: '' })}
          >
            only rows left out ({formatNumber(gone, 0)})
          </button>
        </>
      )}
    </p>
  )
}

const FORMS = [
  ['csv', 'CSV'],
  ['parquet', 'Parquet'],
  ['jsonl', 'JSON lines'],
]

function Download({ version }: { version: number }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="button-plain shrink-0 text-[13px]">Download</DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-20 min-w-40 rounded-lg border border-line bg-strip p-1.5 text-sm text-ink shadow-xl"
        >
          {FORMS.map(([form, name]) => (
            <DropdownMenu.Item key={form} asChild>
              <a
                className="block rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
                href={inSpace(`/api/versions/${version}/table/${form}`)}
                download
              >
                {name}
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** Ctrl-Z and Ctrl-Shift-Z, unless a field has the keys. */
function useUndoKeys({ undo, redo }: Preparation) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'z' || (e.target as HTMLElement).closest('input, textarea, select')) return
      e.preventDefault()
      if (e.shiftKey) redo?.()
      else undo?.()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [undo, redo])
}
