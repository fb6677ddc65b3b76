/** Talks to the server. Every error carries what is wrong and what to do about it. */
import createClient from 'openapi-fetch'
import { noted } from './pending'
import { inSpace, SPACE_HEADER, spaceId } from './space'
import type { paths } from './schema.gen'
import type {
  Schemas,
  Chart,
  Contents,
  Document,
  Preview,
  Explanations,
  ViewRequest,
  Meaning,
  Completion,
  Mistake,
  Problem,
  ReadOptions,
  DrawRequest,
  Role,
  Key,
  AuditWanted,
  Note,
  Subject,
  Pattern,
  KeptLook,
  Origin,
  OriginPlaces,
  ListedSource,
  WholeAnswer,
  Dataset,
  Renewed,
  KeptComparison,
  Fitted,
  MovedCharts,
  ChartsWanted,
  FoundCharts,
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
export type Comparison = Schemas['Comparison']
/** Which two charts are compared: each at a step, 0 where it stands, over a version, 0 its own. */
export type ComparedSides = Record<'a' | 'a_step' | 'a_version' | 'b' | 'b_step' | 'b_version', number>
/** A chart as a page shows it: what its reading says by keys, and which chart it is. */
export type PageDrawing = Drawing & { said: Statement[]; chart: Chart }
export interface Statement {
  key: string
  text: string
  /** The paragraph that it is of, from 0; −1: of the table of fits. */
  of: number
}

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
    /** What is wanted to go on: a code, or a second factor. */
    readonly code: string = '',
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
    return new Refusal(
      answer.status,
      body.message,
      body.advice ?? '',
      body.mistakes ?? [],
      body.problems ?? [],
      body.missing ?? [],
      body.code ?? '',
    )
  } catch {
    return new Refusal(answer.status, 'the server does not answer as it should', 'try again in a moment')
  }
}

const STOPPED = 'stopped'

/** Gives the answer to a request, or a refusal in words. A request that takes long can be stopped by whoever waits. */
async function asked(request: Request): Promise<Response> {
  const stopping = new AbortController()
  const done = noted(() => stopping.abort(STOPPED))
  try {
    const answer = await fetch(new Request(request, { signal: AbortSignal.any([request.signal, stopping.signal]) }))
    if (!answer.ok) throw await refusalOf(answer)
    return answer
  } catch (fault) {
    if (fault instanceof Refusal || request.signal.aborted) throw fault
    if (stopping.signal.aborted) throw new Refusal(0, 'it was stopped', 'ask again when you want it')
    throw new Refusal(0, 'the server cannot be reached', 'check that it runs, and try again; what you typed is still here')
  } finally {
    done()
  }
}

/** Every path with its parameters, body and answer is typed by the OpenAPI description. */
const headers = spaceId ? { [SPACE_HEADER]: spaceId } : {}
const server = createClient<paths>({ fetch: asked, headers })
/** For what is quick and often asked, so that nobody is shown waiting for it. */
const aside = createClient<paths>({ headers })

/** For what is asked again and again, refused in words. */
const quietly = createClient<paths>({
  headers,
  fetch: async (request) => {
    const answer = await fetch(request)
    if (!answer.ok) throw await refusalOf(answer)
    return answer
  },
})

/** What an answer holds: there is no other, for a refusal is thrown. */
const held = async <T>(answer: Promise<{ data?: T }>): Promise<NonNullable<T>> => (await answer).data as NonNullable<T>
const at = <T extends object>(path: T) => ({ params: { path } })
const figure = { parseAs: 'arrayBuffer' } as const

export const api = {
  me: () => held(server.GET('/api/me')),
  /** Who is signed in, asked now and then, so that nobody is shown waiting for it. */
  meAgain: () => held(quietly.GET('/api/me')),
  ways: () => held(server.GET('/api/ways')),
  signIn: (email: string, password: string, code: string) => server.POST('/api/sign-in', { body: { email, password, code } }),
  beginPasskeySignIn: () => held(server.POST('/api/sign-in/passkey/begin')),
  passkeySignIn: (token: string, credential: unknown) => server.POST('/api/sign-in/passkey', { body: { token, credential } }),
  forgotten: (email: string) => server.POST('/api/forgotten', { body: { email } }),
  newPassword: (link: string, password: string) => server.POST('/api/new-password', { body: { link, password } }),
  first: (body: Schemas['FirstInputBody']) => server.POST('/api/first', { body }),
  invited: (key: string) => held(server.GET('/api/invited/{key}', at({ key }))),
  join: (key: string) => held(server.POST('/api/invited/{key}', at({ key }))),
  joinAnew: (key: string, body: Schemas['Newcomer']) => held(server.POST('/api/invited/{key}/anew', { ...at({ key }), body })),
  rename: (name: string) => server.PATCH('/api/me', { body: { name } }),
  wantLetters: (letters: boolean) => server.PATCH('/api/me', { body: { letters } }),
  changePassword: (old: string, wanted: string) => server.PUT('/api/me/password', { body: { old, new: wanted } }),
  sessions: () => held(server.GET('/api/me/sessions')),
  endSession: (id: number) => server.DELETE('/api/me/sessions/{id}', at({ id })),
  factors: () => held(server.GET('/api/me/factor')),
  beginFactor: (password: string) => held(server.POST('/api/me/factor', { body: { password } })),
  confirmFactor: (code: string) => held(server.POST('/api/me/factor/confirm', { body: { code } })),
  showFactor: (code: string) => server.POST('/api/me/factor/show', { body: { code } }),
  dropFactor: (password: string, code: string) => server.POST('/api/me/factor/drop', { body: { password, code } }),
  beginPasskey: (password: string) => held(server.POST('/api/me/passkeys/begin', { body: { password } })),
  addPasskey: (token: string, credential: unknown) => server.POST('/api/me/passkeys', { body: { token, credential } }),
  dropPasskey: (id: string, password: string) => server.POST('/api/me/passkeys/drop', { body: { id, password } }),
  addSpace: (name: string) => held(server.POST('/api/spaces', { body: { name } })),
  /** Makes a space of the file that one was taken out as. */
  bringSpace: (file: File) =>
    held(
      server.POST('/api/spaces/file', {
        body: file as unknown as string,
        bodySerializer: (body: unknown) => body as BodyInit,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    ),
  changeSpace: (change: Schemas['SpaceChange']) => server.PATCH('/api/space', { body: change }),
  leaveSpace: () => server.POST('/api/space/leave'),
  people: () => held(server.GET('/api/people')),
  setRole: (id: number, role: Role) => server.PATCH('/api/people/{id}', { ...at({ id }), body: { role } }),
  takeOut: (id: number) => server.DELETE('/api/people/{id}', at({ id })),
  passwordLink: (id: number) => held(server.POST('/api/people/{id}/password-link', at({ id }))),
  invitations: () => held(server.GET('/api/invitations')),
  invite: (wanted: Schemas['InvitationWanted']) => held(server.POST('/api/invitations', { body: wanted })),
  keys: async () => (await held(server.GET('/api/keys'))) as Key[],
  addKey: async (body: Schemas['KeyWanted']) => (await held(server.POST('/api/keys', { body }))) as Key & { token: string },
  dropKey: (id: number) => server.DELETE('/api/keys/{id}', at({ id })),
  hooks: () => held(server.GET('/api/hooks')),
  hookCalls: () => held(server.GET('/api/hooks/calls')),
  addHook: (address: string) => held(server.POST('/api/hooks', { body: { address } })),
  dropHook: (id: number) => server.DELETE('/api/hooks/{id}', at({ id })),
  takeBack: (id: number) => server.DELETE('/api/invitations/{id}', at({ id })),
  signOut: () => server.POST('/api/sign-out'),
  numbers: (version: number, rows: number[], columns: string[]) =>
    held(server.POST('/api/versions/{version}/numbers', { ...at({ version }), body: { rows: rows.map((row) => row + 1), columns } })),
  style: () => held(server.GET('/api/style')),
  setStyle: (document: Document | null) => held(server.PUT('/api/style', { body: { document: document ?? undefined } })),
  sayable: (version: number) => held(server.GET('/api/versions/{version}/sayable', at({ version }))),
  examples: () => held(server.GET('/api/examples')),
  datasets: () => held(server.GET('/api/datasets')),
  findDatasets: (find: string) => held(server.GET('/api/datasets', { params: { query: { find } } })),
  dataset: (id: number) => held(server.GET('/api/datasets/{id}', at({ id }))),
  versions: (id: number) => held(server.GET('/api/datasets/{id}/versions', at({ id }))),
  prepare: (version: number, typed: string, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/preparation', { ...at({ version }), body: { typed }, signal })),
  keepPreparation: (version: number, typed: string) =>
    held(server.POST('/api/versions/{version}/prepared', { ...at({ version }), body: { typed } })),
  moveChart: (id: number, version_id: number, columns: Record<string, string> = {}) =>
    server.PATCH('/api/charts/{id}', { ...at({ id }), body: { version_id, columns } }),
  build: async (built: Schemas['BuildWanted']): Promise<BuiltPicture> =>
    decodeFigure<BuiltPicture>(await held(server.POST('/api/built', { body: built, ...figure }))),
  askAside: (id: number) => held(server.POST('/api/charts/{id}/asked', at({ id }))),
  draft: (id: number) => held(server.GET('/api/datasets/{id}/draft', at({ id }))),
  /** It goes on where the page is left. */
  keepDraft: (id: number, typed: string) => aside.PUT('/api/datasets/{id}/draft', { ...at({ id }), body: { typed }, keepalive: true }),
  compareFile: (id: number, key: string) => held(server.POST('/api/datasets/{id}/files/{key}', at({ id, key }))),
  keepFile: (id: number, key: string) => held(server.POST('/api/datasets/{id}/files/{key}/keep', at({ id, key }))),
  dropDataset: (id: number) => server.DELETE('/api/datasets/{id}', at({ id })),
  readAgain: (key: string, options: ReadOptions) => held(server.PUT('/api/uploads/{key}', { ...at({ key }), body: options })),
  keep: (key: string, name: string) => held(server.POST('/api/uploads/{key}/keep', { ...at({ key }), body: { name } })),
  discard: (key: string) => server.DELETE('/api/uploads/{key}', at({ key })),
  view: (version: number, request: ViewRequest, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/view', { ...at({ version }), body: request, signal })),
  row: (version: number, row: number, columns: string[]) =>
    held(server.GET('/api/versions/{version}/rows/{row}', { params: { path: { version, row: row + 1 }, query: { columns } } })),
  goesWith: (version: number, column: string) => held(server.GET('/api/versions/{version}/goes-with/{column}', at({ version, column }))),
  oneRow: (dataset: number) => held(server.GET('/api/datasets/{id}/one-row', at({ id: dataset }))),
  edit: (dataset: number, edit: Schemas['Edit']) => held(server.POST('/api/datasets/{id}/edited', { ...at({ id: dataset }), body: edit })),
  groups: (version: number, typed: string, column: string) =>
    held(server.POST('/api/versions/{version}/groups', { ...at({ version }), body: { typed, column } })),
  summary: (version: number, typed = '') => held(server.POST('/api/versions/{version}/summary', { ...at({ version }), body: { typed } })),
  language: () => held(server.GET('/api/language')),
  make: (name: string, typed: string) => held(server.POST('/api/datasets', { body: { name, typed } })),
  describe: (id: number, said: Schemas['Description']) => server.PATCH('/api/datasets/{id}', { ...at({ id }), body: said }),
  meanings: (id: number) => held(server.GET('/api/datasets/{id}/meanings', at({ id }))),
  setMeaning: (id: number, meaning: Meaning) => server.PUT('/api/datasets/{id}/meanings', { ...at({ id }), body: meaning }),
  importMeanings: (id: number, file: File) =>
    held(
      server.POST('/api/datasets/{id}/meanings/file', {
        ...at({ id }),
        body: file as unknown as string,
        bodySerializer: (body) => body,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    ),
  explanations: (version: number, document: Document, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/explanations', { ...at({ version }), body: { document }, signal })),
  pairs: async (version: number, wanted: PairsWanted, signal?: AbortSignal): Promise<PairsPicture> =>
    decodeFigure<PairsPicture>(
      await held(server.POST('/api/versions/{version}/pairs', { ...at({ version }), body: wanted, signal, ...figure })),
    ),
  evidence: (version: number, document: Document, column: string, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/evidence', { ...at({ version }), body: { document, column }, signal })),
  holds: (version: number, document: Document, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/holds', { ...at({ version }), body: { document }, signal })),
  firstLook: (version: number) => held(server.GET('/api/versions/{version}/first-look', at({ version }))),
  draw: async (version: number, request: DrawRequest, signal?: AbortSignal): Promise<Drawing> =>
    decodePicture<Document>(
      await held(server.POST('/api/versions/{version}/figure', { ...at({ version }), body: request, signal, ...figure })),
    ),
  /** Draws a chart into a file, and gives it with the name that it is to have. */
  drawing: async (version: number, wanted: Schemas['DrawingInputBody']): Promise<{ name: string; content: Blob }> => {
    const { data, response } = await server.POST('/api/versions/{version}/drawing', { ...at({ version }), body: wanted, parseAs: 'blob' })
    const said = response.headers.get('Content-Disposition') ?? ''
    const name = /filename\*=utf-8''([^;]+)/i.exec(said)?.[1]
    return {
      name: name ? decodeURIComponent(name) : (/filename="?([^";]+)"?/.exec(said)?.[1] ?? `chart.${wanted.format}`),
      content: data!,
    }
  },
  completePreparation: (version: number, before: string, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/preparation/completions', { ...at({ version }), body: { before }, signal })),
  withAndWithout: (version: number, document: Document, rows: number[], signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/with-and-without', { ...at({ version }), body: { document, rows }, signal })),
  choices: (version: number, document: Document, slot: string, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/choices', { ...at({ version }), body: { document, slot }, signal })),
  additions: (version: number, document: Document, signal?: AbortSignal) =>
    held(server.POST('/api/versions/{version}/additions', { ...at({ version }), body: { document }, signal })),
  /** What could be typed next; asked at every key. */
  complete: async (version: number, before: string, signal: AbortSignal): Promise<Completion> =>
    (await aside.POST('/api/versions/{version}/completions', { ...at({ version }), body: { before }, signal })).data ?? {
      replace: 0,
      suggestions: [],
    },
  findCharts: async (query: ChartsWanted, signal?: AbortSignal) =>
    (await held(quietly.GET('/api/found/charts', { params: { query }, signal }))) as FoundCharts,
  copyChart: (id: number, name: string) => held(server.POST('/api/charts/{id}/copy', { ...at({ id }), body: { name } })),
  chart: (id: number) => held(server.GET('/api/charts/{id}', at({ id }))),
  addChart: (version_id: number, document: Document, name = '') =>
    held(server.POST('/api/charts', { body: { version_id, document, name } })),
  addStep: (id: number, parent_id: number, document: Document) =>
    held(server.POST('/api/charts/{id}/steps', { ...at({ id }), body: { parent_id, document } })),
  step: (id: number, step: number) => held(server.GET('/api/charts/{id}/steps/{step}', at({ id, step }))),
  markStep: (id: number, step: number, body: { name?: string; pinned?: boolean }) =>
    held(server.PATCH('/api/charts/{id}/steps/{step}', { ...at({ id, step }), body })),
  takeStepOut: async (id: number, step: number) => (await held(server.DELETE('/api/charts/{id}/steps/{step}', at({ id, step })))).steps,
  putStepBack: (id: number, step: number) => held(server.POST('/api/charts/{id}/steps/{step}/back', at({ id, step }))),
  trail: async (id: number) => (await held(quietly.GET('/api/charts/{id}', at({ id })))) as Chart,
  /** It goes on where the page is left. */
  moveTo: async (id: number, step_id: number): Promise<void> =>
    void (await server.PATCH('/api/charts/{id}', { ...at({ id }), body: { step_id }, keepalive: true })),
  renameChart: (id: number, name: string) => server.PATCH('/api/charts/{id}', { ...at({ id }), body: { name } }),
  dropChart: (id: number) => server.DELETE('/api/charts/{id}', at({ id })),
  pages: (find = '') => held(server.GET('/api/pages', { params: { query: { find } } })),
  page: (id: number) => held(server.GET('/api/pages/{id}', at({ id }))),
  /** The same, asked now and then, so that nobody is shown waiting for it. */
  pageAgain: (id: number) => held(quietly.GET('/api/pages/{id}', at({ id }))),
  addPage: (contents?: Contents) => held(server.POST('/api/pages', { body: contents ? { contents } : {} })),
  writePage: (id: number, base: Contents, contents: Contents) =>
    held(quietly.PUT('/api/pages/{id}', { ...at({ id }), body: { base, contents } })),
  patterns: async () => (await held(server.GET('/api/patterns'))) as Pattern[],
  addPattern: (name: string, chart_id: number, step_id: number) =>
    held(server.POST('/api/patterns', { body: { name, chart_id, step_id } })),
  renamePattern: (id: number, name: string) => server.PATCH('/api/patterns/{id}', { ...at({ id }), body: { name } }),
  dropPattern: (id: number) => server.DELETE('/api/patterns/{id}', at({ id })),
  /** What a pattern, or the sentence of a version, is over another one. */
  fit: async (version: number, body: Schemas['Fitting'], signal?: AbortSignal) =>
    (await held(server.POST('/api/versions/{version}/fitted', { ...at({ version }), body, signal }))) as Fitted,
  comparisons: async () => (await held(server.GET('/api/comparisons'))) as KeptComparison[],
  keepComparison: (name: string, sides: KeptComparison['sides']) => held(server.POST('/api/comparisons', { body: { name, sides } })),
  dropComparison: (id: number) => server.DELETE('/api/comparisons/{id}', at({ id })),
  /** What rows of a waiting file would become below those of a dataset; kept, it is the next version. */
  addRows: async (id: number, key: string, keys: string[], keep: boolean) =>
    (await held(server.POST('/api/datasets/{id}/files/{key}/added', { ...at({ id, key }), body: { keys, keep } }))) as Renewed,
  sources: async () => (await held(quietly.GET('/api/sources'))) as ListedSource[],
  drawRows: async (body: Schemas['RowsWanted'], signal: AbortSignal) =>
    (await held(quietly.POST('/api/sources/rows', { body, signal }))) as unknown as Preview,
  chartStaying: async (body: Schemas['StayingWanted'], signal: AbortSignal) =>
    (await held(quietly.POST('/api/sources/charts', { body, signal }))) as unknown as Dataset,
  askWhole: async (version: number, body: Schemas['WholeWanted'], signal: AbortSignal) =>
    (await held(quietly.POST('/api/versions/{version}/whole', { ...at({ version }), body, signal }))) as WholeAnswer,
  rowsUnder: async (version: number, body: Schemas['UnderWanted'], signal: AbortSignal) =>
    held(quietly.POST('/api/versions/{version}/under', { ...at({ version }), body, signal })),
  wholeAnswers: async (version: number) => (await held(quietly.GET('/api/versions/{version}/whole', at({ version })))) as WholeAnswer[],
  dropWholeAnswers: (version: number) => server.DELETE('/api/versions/{version}/whole', at({ version })),
  originPlaces: async () => (await held(server.GET('/api/origins'))) as OriginPlaces,
  origin: async (id: number) => (await held(quietly.GET('/api/datasets/{id}/origin', at({ id })))) as Origin,
  setOrigin: (id: number, body: Schemas['OriginWanted']) => held(server.PUT('/api/datasets/{id}/origin', { ...at({ id }), body })),
  dropOrigin: (id: number) => server.DELETE('/api/datasets/{id}/origin', at({ id })),
  askOrigin: (id: number, nevertheless = false) =>
    held(server.POST('/api/datasets/{id}/origin/asked', { ...at({ id }), body: { nevertheless } })),
  looks: async () => (await held(server.GET('/api/looks'))) as KeptLook[],
  addLook: (name: string, document: Document) => held(server.POST('/api/looks', { body: { name, document } })),
  dropLook: (id: number) => server.DELETE('/api/looks/{id}', at({ id })),
  /** What a version makes of charts that stand over others of its dataset, from one on. */
  moved: async (id: number, version: number, from: number, signal: AbortSignal) =>
    (await held(quietly.GET('/api/datasets/{id}/moved', { params: { path: { id }, query: { version, from } }, signal }))) as MovedCharts,
  movedByFile: async (id: number, key: string, from: number, signal: AbortSignal) =>
    (await held(
      quietly.GET('/api/datasets/{id}/files/{key}/moved', { params: { path: { id, key }, query: { from } }, signal }),
    )) as MovedCharts,
  notes: async (on: Subject, version = 0) =>
    (await held(
      quietly.GET('/api/notes', { params: { query: { chart: on.chart_id, dataset: on.dataset_id, page: on.page_id, version } } }),
    )) as Note[],
  notesFound: async (query: { find?: string; fresh?: boolean; open?: boolean }) =>
    (await held(quietly.GET('/api/notes', { params: { query } }))) as Note[],
  addNote: async (body: Schemas['NewNote']) => (await held(server.POST('/api/notes', { body }))) as Note,
  answerNote: (id: number, text: string) => held(server.POST('/api/notes/{id}/answers', { ...at({ id }), body: { text } })),
  changeNote: (id: number, body: { text?: string; resolved?: boolean }) => held(server.PATCH('/api/notes/{id}', { ...at({ id }), body })),
  dropNote: (id: number) => server.DELETE('/api/notes/{id}', at({ id })),
  dropNoteAnswer: (id: number, answer: number) => server.DELETE('/api/notes/{id}/answers/{answer}', at({ id, answer })),
  seeNote: (id: number) => quietly.POST('/api/notes/{id}/seen', at({ id })),
  /** Says where one writes, in a window that follows something. */
  standIn: (window: string, place: string) => quietly.PUT('/api/windows/{window}', { ...at({ window }), body: { place } }),
  dropPage: (id: number) => server.DELETE('/api/pages/{id}', at({ id })),
  pageVersions: (id: number) => held(server.GET('/api/pages/{id}/versions', at({ id }))),
  pageVersion: (id: number, version: number) => held(server.GET('/api/pages/{id}/versions/{version}', at({ id, version }))),
  followed: (contents: Contents) => held(quietly.POST('/api/pages/followed', { body: { contents } })),
  compared: (query: ComparedSides) => held(server.GET('/api/compared', { params: { query } })),
  comparedFigure: async (
    query: ComparedSides & { of: 'a' | 'b'; own: boolean; width: number; height: number },
    signal?: AbortSignal,
  ): Promise<PageDrawing> =>
    decodePicture<Document>(await held(quietly.GET('/api/compared/figure', { params: { query }, signal, ...figure }))) as PageDrawing,
  /** A chart at a step, or where it stands (0), as a page shows it. */
  stepFigure: async (
    id: number,
    step: number,
    query: { width: number; height: number; page?: number },
    signal?: AbortSignal,
  ): Promise<PageDrawing> =>
    decodePicture<Document>(
      await held(
        quietly.GET('/api/charts/{id}/steps/{step}/figure', {
          params: { path: { id, step }, query },
          signal,
          ...figure,
        }),
      ),
    ) as PageDrawing,
  shares: () => held(server.GET('/api/shares')),
  copyShared: (key: string, password: string) => held(server.POST('/api/copies', { body: { key, password } })),
  sharePage: (id: number, body: Schemas['SharedPage']) => held(server.POST('/api/pages/{id}/share', { ...at({ id }), body })),
  shareOpens: (id: number) => held(server.GET('/api/shares/{id}/opens', at({ id }))),
  share: (body: Schemas['ShareInputBody']) => held(server.POST('/api/shares', { body })),
  withdraw: (id: number) => server.DELETE('/api/shares/{id}', at({ id })),
  audit: (wanted: AuditWanted, before: number) => held(server.GET('/api/audit', { params: { query: { ...wanted, before } } })),
  /** The same as a file. */
  auditFile: (wanted: AuditWanted) => inSpace(`/api/audit.csv?${new URLSearchParams({ ...wanted })}`),
  /** What the heavy work of this person does. */
  work: () => held(aside.GET('/api/work')),
}

/** Sends a file for a preview, telling how much has gone; abort() stops it. */
export function upload(file: File, progress: (share: number) => void): { done: Promise<Preview>; abort: () => void } {
  const request = new XMLHttpRequest()
  const done = new Promise<Preview>((keep, refuse) => {
    request.open('POST', inSpace(`/api/uploads?name=${encodeURIComponent(file.name)}`))
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
