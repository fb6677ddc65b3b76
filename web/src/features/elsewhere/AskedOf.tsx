import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, type Dataset, type Drawing, type WholeAnswer } from '../../api/client'
import { formatNumber } from '../../scale/format'
import type { Bench } from '../../state/bench'
import { BasisDot } from '../../ui/BasisSign'
import { Dialog } from '../../ui/Dialog'
import { moment } from '../../ui/moment'
import { TakeMany } from './TakeMany'
import type { WholeAsking } from './useWhole'

/** What the chart asked of the database in which its table stays: each question with how long it took, or why it has no answer. */
export function AskedOf({ bench, drawing, dataset, asking }: { bench: Bench; drawing: Drawing; dataset: Dataset; asking: WholeAsking }) {
  const queries = useQueryClient()
  const { data: answers } = useQuery({ queryKey: ['whole', bench.version], queryFn: () => api.wholeAnswers(bench.version) })
  const [telling, tell] = useState(false)
  const whole = drawing.figure.elsewhere
  if (!whole || !dataset.stays) return null
  const of = new Map((answers ?? []).map((a) => [a.key, a]))
  const asked = whole.questions.flatMap((q) => of.get(q.key) ?? [])
  const anew = async () => {
    await api.dropWholeAnswers(bench.version)
    await queries.invalidateQueries({ queryKey: ['whole', bench.version] })
    asking.goOn()
    bench.refresh()
  }
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="What was asked of the database">
      <h3 className="mb-1 font-serif text-[17px] font-semibold">What was asked of the database</h3>
      <ul className="flex flex-col gap-1 text-[13.5px]">
        {whole.questions.map((q) => (
          <li key={q.key} className="flex items-baseline gap-2.5">
            <Sign known={q.known} running={asking.running?.key === q.key} />
            <span className="min-w-0 flex-1 wrap-anywhere">
              {q.words}
              {asking.running?.key === q.key &&
                asking.parts &&
                `, part ${Math.min(asking.parts.done + 1, asking.parts.of)} of ${asking.parts.of}`}
              {asking.failed.has(q.key) && <span className="block text-[13px] text-copper">{whyNot(asking.failed.get(q.key)!)}</span>}
            </span>
            <span className="shrink-0 tabular-nums">
              {q.known ? seconds(of.get(q.key)?.seconds) : asking.running?.key === q.key && <Since at={asking.running.since} />}
            </span>
          </li>
        ))}
      </ul>
      {whole.bars && <p className="text-[13px]">All is of the sample: {whole.bars}.</p>}
      {(whole.bars || asking.failed.size > 0) && <TakeMany stays={dataset.stays} />}
      <p className="mt-1.5 text-[13px] text-muted">
        The rows stay in <strong className="font-semibold">{dataset.stays.source}</strong>; only the sample came here.
        {asked.length > 0 && ` First asked ${moment(asked.map((a) => a.asked_at).sort()[0])}.`}
      </p>
      <p className="flex gap-4 text-[13px]">
        {of.size > 0 && (
          <>
            <button type="button" className="link" onClick={() => tell(true)}>
              The questions as SQL
            </button>
            <button type="button" className="link" title="The table may have changed since" onClick={() => void anew()}>
              Ask anew
            </button>
          </>
        )}
      </p>
      {telling && (
        <Statements asked={[...inOrder(whole.questions, of), ...beside(whole.questions, answers ?? [])]} close={() => tell(false)} />
      )}
    </section>
  )
}

const whyNot = (fault: { message: string; advice?: string }) => `${fault.message}${fault.advice ? `: ${fault.advice}` : ''}`

const seconds = (took?: number) => (took === undefined ? '' : `${formatNumber(took, took < 10 ? 1 : 0)} s`)

/** How long something lasts by now. */
function Since({ at }: { at: number }) {
  const [now, setNow] = useState(at)
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  return <>{seconds(Math.round((now - at) / 1000))}</>
}

function Sign({ known, running }: { known: boolean; running: boolean }) {
  if (known) return <BasisDot basis="all" label="answered" />
  return (
    <span
      role="img"
      aria-label={running ? 'is asked now' : 'not answered'}
      className={`inline-block size-2.5 shrink-0 rounded-full border-2 ${running ? 'animate-spin border-copper border-t-transparent' : 'border-line'}`}
    />
  )
}

interface Stated {
  words: string
  answer: WholeAnswer
}

const inOrder = (questions: { key: string; words: string }[], of: Map<string, WholeAnswer>): Stated[] =>
  questions.flatMap(({ key, words }) => (of.has(key) ? { words, answer: of.get(key)! } : []))

/** What was asked for other charts of the table, and for what is told beside them. */
const beside = (questions: { key: string }[], answers: WholeAnswer[]): Stated[] =>
  answers
    .filter((a) => !questions.some((q) => q.key === a.key))
    .map((answer, i) => ({ words: `beside this chart, or for another: ${i + 1}`, answer }))

/** The statements by which all rows were asked. */
function Statements({ asked, close }: { asked: Stated[]; close: () => void }) {
  return (
    <Dialog title="The questions as SQL" onClose={close}>
      <div className="flex flex-col gap-5">
        <p className="text-[14px] text-muted">
          What you said stands in the numbered places as values, never as text. A table in parts is asked part by part.
        </p>
        {asked.map(({ words, answer }) => (
          <section key={answer.key} aria-label={words}>
            <h3 className="font-semibold">{words}</h3>
            <p className="text-[13px] text-muted">
              {seconds(answer.seconds)}, in {answer.parts} {answer.parts === 1 ? 'part' : 'parts'}, {moment(answer.asked_at)}
              {answer.by && `, for ${answer.by}`}
            </p>
            <pre
              tabIndex={0}
              aria-label={`SQL: ${words}`}
              className="mt-1.5 max-h-52 overflow-auto rounded-lg border border-line bg-paper p-3 text-xs whitespace-pre-wrap wrap-anywhere"
            >
              {answer.statement}
            </pre>
          </section>
        ))}
      </div>
    </Dialog>
  )
}
