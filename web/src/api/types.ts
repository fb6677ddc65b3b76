/** What the server takes and gives, by the names that the OpenAPI description has for it. */
import type { components } from './schema.gen'

export type Schemas = components['schemas']
export type Document = Schemas['Document']
export type Dataset = Schemas['Dataset']
export type DatasetWithColumns = Schemas['DatasetWithColumns']
export type ColumnProfile = Schemas['ColumnProfile']
export type Chart = Schemas['Chart']
export type Step = Schemas['Step']
export type Share = Schemas['Share']
export type Me = Schemas['Me']
export type Preview = Schemas['Preview']
export type Explanations = Schemas['Explanations']
export type Prepared = Schemas['Prepared']
export type Version = Schemas['Version']
export type View = Schemas['View']
export type ViewRequest = Schemas['ViewRequest']
export type Meaning = Schemas['Meaning']
export type ImportedMeanings = Schemas['ImportedMeanings']
export type Language = Schemas['Language']
export type LanguageWord = Schemas['LanguageWord']
export type Companion = Schemas['Companion']
export type Menu = Schemas['Menu']
export type Choice = Schemas['Choice']
export type Addition = Schemas['Addition']
export type Part = Schemas['Part']
export type Completion = Schemas['Completion']
export type Job = Schemas['Job']
export type AuditEntry = Schemas['AuditEntry']
export type Mistake = Schemas['Error']
export type Answer = Schemas['AsideAnswer']
export type Renewal = Schemas['Renewal']
export type Sayable = Schemas['Sayable']
export type Example = Schemas['Example']
export type Problem = Schemas['Problem']
export type ReadOptions = Schemas['ReadAgainInputBody']
export type Evidence = Schemas['Evidence']
export type Amendment = Schemas['Amendment']
export type WithAndWithout = Schemas['WithAndWithout']
export type DrawRequest = Schemas['Wanted']
export type Member = Schemas['Member']
export type Invitation = Schemas['Invitation']
export type Scope = 'read' | 'add rows' | 'make' | 'share'
export type Key = Omit<Schemas['Key'], 'scopes'> & { scopes: Scope[] }
export type HookCall = Schemas['HookCall']
export type Session = Schemas['Session']
export type Factors = Schemas['Factors']
export type Role = 'reader' | 'maker' | 'owner'

/** Which entries of what was done are wanted. */
export interface AuditWanted {
  who?: string
  about?: string
  from?: string
  to?: string
}
export type Contents = Schemas['Contents']
export type Block = Schemas['Block']
export type ShownChart = Schemas['ShownChart']
export type StoryPage = Schemas['Page']
export type ListedPage = Schemas['ListedPage']
export type PageVersion = Schemas['PageVersion']

/** What people have open together and write notes on: exactly one of them. */
export type Subject = Pick<Schemas['NewNote'], 'chart_id' | 'dataset_id' | 'page_id'>
export type NoteSpot = Schemas['NoteSpot']
export type Note = Schemas['Note']
/** Somebody who has something open. */
export interface Here {
  person_id: number
  name: string
  /** Of a chart: where they stand. */
  step_id: number
  /** Of a page or a dataset: where they write. */
  place?: string
}
export type Pattern = Schemas['Pattern']
export type KeptLook = Schemas['KeptLook']
export type Fitted = Schemas['Fitted']
export type MovedChart = Schemas['MovedChart']
export type MovedCharts = Schemas['MovedCharts']
export type FoundChart = Schemas['FoundChart']
export type FoundCharts = Schemas['FoundCharts']
/** Which charts are looked for; what is missing is not looked at. */
export interface ChartsWanted {
  chart?: number
  find?: string
  dataset?: number
  maker?: number
  state?: 'all' | 'kept' | 'shared' | 'try'
  order?: 'changed' | 'name' | 'maker'
  from?: number
  limit?: number
}
export type KeptComparison = Schemas['KeptComparison']
export type Origin = Schemas['Origin']
export type OriginPlaces = Schemas['OriginPlaces']
/** A database whose tables stay there, and one of these. */
export type ListedSource = Schemas['ListedSource']
export type WholeAnswer = Schemas['WholeAnswer']
/** What becomes of rows that are added. */
export type Renewed = Schemas['Renewed']
export type SourceTable = Schemas['Table']
