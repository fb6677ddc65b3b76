import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useRef, useState, type DragEvent } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api, type Dataset, type Me, type Preview } from '../../api/client'
import { counted } from '../../scale/format'
import { moment } from '../../ui/moment'
import { may, useMakes } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { TABLE_FILES, UploadProgress, useUpload } from '../../ui/Upload'
import { SampleSign } from '../../ui/SampleSign'
import { Trouble, Waiting } from '../../ui/Words'
import { ChartList } from './ChartList'
import { ChartPicture } from '../chart/ChartPicture'
import { ComparisonList } from './ComparisonList'
import { FindBar } from './FindBar'
import { MakeTable } from './MakeTable'
import { PastedSentence } from '../again/pasted'
import { ForYou } from './ForYou'
import { PageList } from '../pages/PageList'
import { isWanted, NOTHING_WANTED, ORDERS, STATES, type Wanted } from './wanted'
import { NoteList } from './NoteList'
import { PatternList } from './PatternList'
import { PreviewDialog } from './PreviewDialog'
import { SourceList } from './SourceList'

export function FrontPage({ me }: { me: Me }) {
  const [wanted, setWanted] = useWanted()
  const find = useDeferredValue(wanted.find)
  const looked = { ...wanted, find }
  const datasets = useQuery({
    queryKey: ['datasets', 'found', find.trim()],
    queryFn: () => api.findDatasets(find.trim()),
    placeholderData: (before) => before,
  })
  const makes = may(me, 'maker')
  const { sending, send, trouble, setTrouble } = useUpload()
  const [preview, setPreview] = useState<Preview | null>(null)
  const [over, setOver] = useState(false)
  const picker = useRef<HTMLInputElement>(null)

  const waiting = useRef<File[]>([])
  const navigate = useNavigate()

  /** Sends the next file that waits; each is looked at before the one after it. */
  const next = async () => {
    const file = waiting.current.shift()
    if (!file) return
    const read = await send(file)
    if (read) setPreview(read)
  }
  const take = (files: FileList | File[] | null | undefined) => {
    if (!makes) return
    waiting.current = [...(files ?? [])]
    void next()
  }
  /** After a file was kept or discarded: on to the next, or to the dataset. */
  const decided = (dataset?: Dataset) => {
    setPreview(null)
    if (waiting.current.length > 0) void next()
    else if (dataset) navigate(`/dataset/${dataset.id}/data`)
  }
  // A block pasted from a spreadsheet is a table with tabs.
  useEffect(() => {
    if (!makes) return
    const paste = (e: ClipboardEvent) => {
      const text = e.clipboardData?.getData('text/plain') ?? ''
      if ((e.target as HTMLElement).closest('input, textarea, dialog') || !text.trim()) return
      e.preventDefault()
      take([new File([text], 'pasted table.tsv', { type: 'text/tab-separated-values' })])
    }
    addEventListener('paste', paste)
    return () => removeEventListener('paste', paste)
  })
  const drop = (e: DragEvent) => {
    e.preventDefault()
    setOver(false)
    take(e.dataTransfer.files)
  }

  return (
    <Shell me={me} view={me.space}>
      <main
        className="flex-1 overflow-auto px-6 py-6"
        onDragOver={(e) => {
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
        onDrop={drop}
      >
        <div className="mx-auto flex max-w-6xl flex-col gap-8">
          {me.leaves_at && (
            <p role="status" className="wrap-anywhere border-l-3 border-copper bg-copper-wash px-3 py-2">
              {me.space} is deleted {moment(me.leaves_at)}, with everything in it. Until then an owner can keep it, under People.
            </p>
          )}
          {makes ? (
            <section
              aria-label="Bring a table"
              className={`flex flex-wrap items-center gap-4 rounded-xl border border-dashed px-6 py-5 ${over ? 'border-copper bg-copper-wash' : 'border-line bg-strip'}`}
            >
              {sending ? (
                <UploadProgress sending={sending} />
              ) : (
                <>
                  <p className="flex-1 font-serif text-lg">
                    Drop tables here, or paste one.
                    <span className="block font-sans text-[13px] text-muted">
                      CSV, TSV, workbooks (.xlsx, .ods), JSON, Parquet, Arrow, Avro, SQLite, LAS logs, .xpt, .dta and .sav files, gzipped,
                      zipped or not
                    </span>
                  </p>
                  <MakeTable refused={setTrouble} />
                  <button type="button" className="button-bright" onClick={() => picker.current?.click()}>
                    Choose a file…
                  </button>
                  <input
                    ref={picker}
                    type="file"
                    multiple
                    className="hidden"
                    aria-label="File with a table"
                    accept={TABLE_FILES}
                    onChange={(e) => {
                      take(e.target.files)
                      e.target.value = ''
                    }}
                  />
                </>
              )}
            </section>
          ) : (
            <p className="text-muted">
              You read in {me.space}: open a chart or a table, and try other sentences; what you try is not kept.
            </p>
          )}
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          {preview && <PreviewDialog key={preview.key} preview={preview} decided={decided} />}
          <PastedSentence />
          <ForYou />
          <FindBar wanted={wanted} set={setWanted} />
          <PageList wanted={looked} />
          <section aria-label="Charts">
            <div className="mb-3 flex items-baseline gap-4">
              <h2 className="font-serif text-xl font-semibold">Charts</h2>
              <Link to="/examples" className="link text-[13px]">
                Examples of what can be said
              </Link>
            </div>
            <ChartList wanted={looked} tryDays={me.try_days ?? 0} />
          </section>
          <ComparisonList wanted={looked} />
          <PatternList wanted={looked} />
          {find.trim() && <NoteList find={find.trim()} />}
          <section aria-label="Datasets">
            <h2 className="mb-3 font-serif text-xl font-semibold">Datasets</h2>
            {datasets.isPending ? (
              <Waiting what="Looking for datasets" />
            ) : (
              <DatasetList
                datasets={(datasets.data ?? []).filter((d) => !wanted.dataset || d.id === wanted.dataset)}
                looked={isWanted(looked)}
              />
            )}
          </section>
          {makes && <SourceList find={find} decided={(dataset) => navigate(`/dataset/${dataset.id}/data`)} />}
        </div>
      </main>
    </Shell>
  )
}

/** What is looked for stands in the address, so that going back finds it again. */
function useWanted(): [Wanted, (wanted: Wanted) => void] {
  const [search, setSearch] = useSearchParams()
  const order = ORDERS.find((o) => o.order === search.get('order'))?.order ?? NOTHING_WANTED.order
  const state = STATES.find((s) => s.state === search.get('state'))?.state ?? NOTHING_WANTED.state
  const wanted = {
    find: search.get('find') ?? '',
    dataset: Number(search.get('dataset')),
    maker: Number(search.get('maker')),
    order,
    state,
  }
  const set = (next: Wanted) =>
    setSearch(
      Object.fromEntries(
        Object.entries(next).flatMap(([name, value]) =>
          value && value !== NOTHING_WANTED[name as keyof Wanted] ? [[name, String(value)]] : [],
        ),
      ),
      { replace: true },
    )
  return [wanted, set]
}

function DatasetList({ datasets, looked }: { datasets: Dataset[]; looked: boolean }) {
  const makes = useMakes()
  const queries = useQueryClient()
  if (datasets.length === 0)
    return <p className="text-muted">{looked ? 'No dataset is found.' : `No datasets yet.${makes ? ' Drop a file above.' : ''}`}</p>
  const drop = async (dataset: Dataset) => {
    if (!confirm(`Delete “${dataset.name}” with its charts? Shared copies stay.`)) return
    await api.dropDataset(dataset.id)
    await queries.invalidateQueries()
  }
  return (
    <div className="relative overflow-x-auto rounded-xl border border-line bg-paper">
      <table className="w-full text-left">
        <tbody>
          {datasets.map((dataset) => (
            <tr key={dataset.id} className="border-b border-line last:border-0 hover:bg-strip">
              <td className="w-28 py-1.5 pl-3 slim:hidden">
                {dataset.last && (
                  <Link tabIndex={-1} aria-hidden to={`/dataset/${dataset.id}/chart/${dataset.last.chart_id}`}>
                    <span className="block overflow-hidden rounded border border-line">
                      <ChartPicture
                        chart={dataset.last.chart_id}
                        step={dataset.last.step_id}
                        version={dataset.last.version_id}
                        width={96}
                        height={56}
                      />
                    </span>
                  </Link>
                )}
              </td>
              <td className="px-4 py-2.5">
                <Link className="font-semibold hover:text-copper" to={`/dataset/${dataset.id}/data`}>
                  {dataset.name}
                </Link>
                {dataset.about && <p className="line-clamp-2 text-[13px] text-muted">{dataset.about}</p>}
                {dataset.drawn && <SampleSign drawn={dataset.drawn} />}
                <p className="text-[13px] text-muted">{[dataset.by, moment(dataset.created_at)].filter(Boolean).join(' · ')}</p>
              </td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap text-muted tabular-nums">{counted(dataset.rows, 'row')}</td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap text-muted tabular-nums slim:hidden">
                {counted(dataset.columns, 'column')}
              </td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap">
                <Link className="link" to={`/dataset/${dataset.id}/chart`}>
                  Chart
                </Link>
                {makes && (
                  <button type="button" className="link ml-4" aria-label={`Delete ${dataset.name}`} onClick={() => drop(dataset)}>
                    Delete
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
