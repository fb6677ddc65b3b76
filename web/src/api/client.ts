/** Talks to the server. Every error carries what is wrong and what to do about it. */
import { noted } from './pending'
import type {
  Schemas,
  Document,
  Dataset,
  DatasetWithColumns,
  Chart,
  Step,
  Share,
  Me,
  Preview,
  Explanations,
  ColumnSummary,
  Prepared,
  Version,
  View,
  ViewRequest,
  Meaning,
  ImportedMeanings,
  Language,
  Companion,
  Menu,
  Addition,
  Completion,
  Job,
  AuditEntry,
  Mistake,
  Answer,
  Renewal,
  Sayable,
  Example,
  Problem,
  ReadOptions,
  Evidence,
  DrawRequest,
} from './types'
import { decodeFigure, decodePicture, type Figure, type Picture, type Reading } from '../figure/figure'
import type { PairsPicture, PairsWanted } from './pairs'

export type * from './types'

/** The picture of a table that somebody builds, with what could explain its slope. */
export interface BuiltPicture {
  figure: Figure
  reading: Reading
  document: Document
  explanations: Explanations
  preparation: string
}
export type Drawing = Picture<Document>

/** An answer that says no, in words for people. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly advice: string,
    readonly mistakes: Mistake[] = [],
    readonly problems: Problem[] = [],
    /** Columns that a chart names and a version does not have. */
    readonly missing: string[] = [],
  ) {
    super(message)
  }

  /** Whether the same request may be answered another time: it was stopped, or the server was busy or away. */
  get passing(): boolean {
    return this.status === 0 || this.status === 429 || this.status >= 500
  }
}

export async function refusalOf(answer: Response): Promise<Refusal> {
  try {
    const body = await answer.json()
    return new Refusal(answer.status, body.message, body.advice ?? '', body.mistakes ?? [], body.problems ?? [], body.missing ?? [])
  } catch {
    return new Refusal(answer.status, 'the server does not answer as it should', 'try again in a moment')
  }
}

const STOPPED = 'stopped'

const send = (method: string, path: string, body?: unknown, signal?: AbortSignal) =>
  asked(
    path,
    {
      method,
      body: body === undefined ? undefined : JSON.stringify(body),
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
    },
    signal,
  )

/** The answer to a request, or a refusal in words. A request that takes long can be stopped by whoever waits. */
async function asked(path: string, request: RequestInit, signal?: AbortSignal): Promise<Response> {
  const stopping = new AbortController()
  const done = noted(() => stopping.abort(STOPPED))
  try {
    const answer = await fetch(path, { ...request, signal: signal ? AbortSignal.any([signal, stopping.signal]) : stopping.signal })
    if (!answer.ok) throw await refusalOf(answer)
    return answer
  } catch (fault) {
    if (fault instanceof Refusal || signal?.aborted) throw fault
    if (stopping.signal.aborted) throw new Refusal(0, 'it was stopped', 'ask again when you want it')
    throw new Refusal(0, 'the server cannot be reached', 'check that it runs, and try again; what you typed is still here')
  } finally {
    done()
  }
}

const json = async <T>(answer: Promise<Response>): Promise<T> => (await answer).json()
const get = <T>(path: string) => json<T>(send('GET', path))
const post = <T>(path: string, body: unknown, signal?: AbortSignal) => json<T>(send('POST', path, body, signal))

/** How a file is read, as far as it was said. */

export const api = {
  me: () => get<Me>('/api/me'),
  signIn: (email: string, password: string) => send('POST', '/api/sign-in', { email, password }),
  signOut: () => send('POST', '/api/sign-out', undefined),
  numbers: (version: number, rows: number[], columns: string[]) =>
    post<(number | null)[][]>(`/api/versions/${version}/numbers`, { rows, columns }),
  style: () => get<Schemas['SpaceStyle']>('/api/style'),
  setStyle: (document: Document) => json<Schemas['SpaceStyle']>(send('PUT', '/api/style', { document })),
  sayable: () => get<Sayable[]>('/api/sayable'),
  examples: () => get<Example[]>('/api/examples'),
  datasets: () => get<Dataset[]>('/api/datasets'),
  dataset: (id: number) => get<DatasetWithColumns>(`/api/datasets/${id}`),
  versions: (id: number) => get<Version[]>(`/api/datasets/${id}/versions`),
  prepare: (version: number, typed: string, signal?: AbortSignal) =>
    json<Prepared>(send('POST', `/api/versions/${version}/preparation`, { typed }, signal)),
  keepPreparation: (version: number, typed: string) => post<Version>(`/api/versions/${version}/prepared`, { typed }),
  moveChart: (chart: number, version: number, columns: Record<string, string> = {}) =>
    send('PATCH', `/api/charts/${chart}`, { version_id: version, columns }),
  build: async (built: object): Promise<BuiltPicture> =>
    decodeFigure<BuiltPicture>(await (await send('POST', '/api/built', built)).arrayBuffer()),
  askAside: (chart: number) => post<Answer>(`/api/charts/${chart}/asked`, {}),
  draft: (id: number) => get<Schemas['Draft']>(`/api/datasets/${id}/draft`),
  /** Quick and often asked, so that nobody waits for it; it goes on where the page is left. */
  keepDraft: (id: number, typed: string) =>
    fetch(`/api/datasets/${id}/draft`, {
      method: 'PUT',
      keepalive: true,
      body: JSON.stringify({ typed }),
      headers: { 'Content-Type': 'application/json' },
    }),
  compareFile: (id: number, key: string) => post<Renewal>(`/api/datasets/${id}/files/${key}`, {}),
  keepFile: (id: number, key: string) => post<Version>(`/api/datasets/${id}/files/${key}/keep`, {}),
  dropDataset: (id: number) => send('DELETE', `/api/datasets/${id}`),
  readAgain: (key: string, options: ReadOptions) => json<Preview>(send('PUT', `/api/uploads/${key}`, options)),
  keep: (key: string, name: string) => post<Dataset>(`/api/uploads/${key}/keep`, { name }),
  discard: (key: string) => send('DELETE', `/api/uploads/${key}`),
  view: (version: number, request: ViewRequest, signal?: AbortSignal) =>
    json<View>(send('POST', `/api/versions/${version}/view`, request, signal)),
  row: (version: number, row: number, columns: string[]) =>
    get<Record<string, string>>(`/api/versions/${version}/rows/${row}?${columns.map((c) => `columns=${encodeURIComponent(c)}`).join('&')}`),
  goesWith: (version: number, column: string) => get<Companion[]>(`/api/versions/${version}/goes-with/${encodeURIComponent(column)}`),
  summary: (version: number, typed = '') => post<ColumnSummary[]>(`/api/versions/${version}/summary`, { typed }),
  language: () => get<Language>('/api/language'),
  make: (name: string, typed: string) => post<Dataset>('/api/datasets', { name, typed }),
  describe: (id: number, said: Schemas['DescribeInputBody']) => send('PATCH', `/api/datasets/${id}`, said),
  meanings: (id: number) => get<Meaning[]>(`/api/datasets/${id}/meanings`),
  setMeaning: (id: number, meaning: Meaning) => send('PUT', `/api/datasets/${id}/meanings`, meaning),
  importMeanings: (id: number, file: File) =>
    json<ImportedMeanings>(
      asked(`/api/datasets/${id}/meanings/file`, { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } }),
    ),
  explanations: (version: number, document: Document, signal?: AbortSignal) =>
    post<Explanations>(`/api/versions/${version}/explanations`, { document }, signal),
  pairs: async (version: number, wanted: PairsWanted, signal?: AbortSignal): Promise<PairsPicture> =>
    decodeFigure<PairsPicture>(await (await send('POST', `/api/versions/${version}/pairs`, wanted, signal)).arrayBuffer()),
  evidence: (version: number, document: Document, column: string, signal?: AbortSignal) =>
    post<Evidence>(`/api/versions/${version}/evidence`, { document, column }, signal),
  holds: (version: number, document: Document, signal?: AbortSignal) =>
    post<Schemas['Holds']>(`/api/versions/${version}/holds`, { document }, signal),
  firstLook: (version: number) => get<Document>(`/api/versions/${version}/first-look`),
  draw: async (version: number, request: DrawRequest, signal?: AbortSignal): Promise<Drawing> =>
    decodePicture<Document>(await (await send('POST', `/api/versions/${version}/figure`, request, signal)).arrayBuffer()),
  /** Draws a chart into a file, and gives it with the name that it is to have. */
  drawing: async (version: number, wanted: Schemas['DrawingInputBody']): Promise<{ name: string; content: Blob }> => {
    const answer = await send('POST', `/api/versions/${version}/drawing`, wanted)
    const said = answer.headers.get('Content-Disposition') ?? ''
    const name = /filename\*=utf-8''([^;]+)/i.exec(said)?.[1]
    return {
      name: name ? decodeURIComponent(name) : (/filename="?([^";]+)"?/.exec(said)?.[1] ?? `chart.${wanted.format}`),
      content: await answer.blob(),
    }
  },
  completePreparation: (version: number, before: string, signal?: AbortSignal) =>
    json<Completion>(send('POST', `/api/versions/${version}/preparation/completions`, { before }, signal)),
  choices: (version: number, document: Document, slot: string, signal?: AbortSignal) =>
    json<Menu>(send('POST', `/api/versions/${version}/choices`, { document, slot }, signal)),
  additions: (version: number, document: Document, signal?: AbortSignal) =>
    json<Addition[]>(send('POST', `/api/versions/${version}/additions`, { document }, signal)),
  /** What could be typed next; quick, and asked at every key, so that nobody waits for it. */
  complete: async (version: number, before: string, signal: AbortSignal): Promise<Completion> => {
    const answer = await fetch(`/api/versions/${version}/completions`, {
      method: 'POST',
      signal,
      body: JSON.stringify({ before }),
      headers: { 'Content-Type': 'application/json' },
    })
    return answer.ok ? answer.json() : { replace: 0, suggestions: [] }
  },
  charts: () => get<Chart[]>('/api/charts'),
  chart: (id: number) => get<Chart>(`/api/charts/${id}`),
  addChart: (versionId: number, document: Document, name = '') => post<Chart>('/api/charts', { version_id: versionId, document, name }),
  addStep: (chart: number, parent: number, document: Document) => post<Step>(`/api/charts/${chart}/steps`, { parent_id: parent, document }),
  moveTo: (chart: number, step: number) => send('PATCH', `/api/charts/${chart}`, { step_id: step }),
  renameChart: (chart: number, name: string) => send('PATCH', `/api/charts/${chart}`, { name }),
  dropChart: (chart: number) => send('DELETE', `/api/charts/${chart}`),
  shares: () => get<Share[]>('/api/shares'),
  share: (body: Schemas['ShareInputBody']) => post<Share>('/api/shares', body),
  withdraw: (id: number) => send('DELETE', `/api/shares/${id}`),
  audit: (before: number) => get<AuditEntry[]>(`/api/audit?before=${before}`),
  /** What the heavy work of this person does; not noted as a request that somebody waits for. */
  work: async (): Promise<Job[]> => (await fetch('/api/work')).json(),
}

/** Sends a file for a preview, telling how much has gone; abort() stops it. */
export function upload(file: File, progress: (share: number) => void): { done: Promise<Preview>; abort: () => void } {
  const request = new XMLHttpRequest()
  const done = new Promise<Preview>((keep, refuse) => {
    request.open('POST', `/api/uploads?name=${encodeURIComponent(file.name)}`)
    request.responseType = 'text'
    request.upload.onprogress = (e) => e.lengthComputable && progress(e.loaded / e.total)
    request.onerror = () => refuse(new Refusal(0, 'the file did not arrive', 'check the connection and send it again'))
    request.onabort = () => refuse(new Refusal(0, 'the upload was stopped', 'nothing of the file was kept'))
    request.onload = async () => {
      if (request.status === 200) keep(JSON.parse(request.responseText))
      else refuse(await refusalOf(new Response(request.responseText, { status: request.status })))
    }
    request.onloadend = noted(() => request.abort())
    request.send(file)
  })
  return { done, abort: () => request.abort() }
}
