import { Popover } from 'radix-ui'
import type { ReactNode } from 'react'
import type { PairsFound, PairsWanted } from '../../api/pairs'
import { wordLook } from '../../sentence/look'
import { over } from '../../ui/over'

interface Props {
  found?: PairsFound
  asked: PairsWanted
  ask: (next: PairsWanted) => void
}

/** What is looked at, as a sentence whose words can be pressed. */
export function PairsSentence({ found, asked, ask }: Props) {
  const outcome = found?.candidates.find((c) => c.column === asked.outcome)
  return (
    <section aria-label="Sentence" className="shrink-0 border-b border-line bg-strip px-5.5 py-2.5 max-[1100px]:py-1.5">
      <p className="font-serif text-[21px] leading-[34px] max-[1100px]:text-[19px] max-[1100px]:leading-[31px]">
        {!found ? (
          'Look at columns two at a time.'
        ) : (
          <>
            Look at{' '}
            <Word role="column" text={`${found.columns.length} columns`}>
              <Columns found={found} asked={asked} ask={ask} />
            </Word>{' '}
            two at a time,{' '}
            {found.groups.length > 0 && (
              <>
                coloured by{' '}
                <Word role="column" text={found.by_name ?? 'nothing'}>
                  <Options
                    name="Coloured by"
                    list={[...found.groups.map((g) => ({ value: g.column, name: g.name })), { value: 'none', name: 'nothing' }]}
                    chosen={found.by}
                    choose={(by) => ask({ ...asked, by })}
                  />
                </Word>
                ,{' '}
              </>
            )}
            skewed columns on a{' '}
            <Word role="way" text={asked.straight ? 'linear scale' : 'log scale'}>
              <Options
                name="Skewed columns"
                list={[
                  { value: '', name: 'log scale' },
                  { value: 'straight', name: 'linear scale' },
                ]}
                chosen={asked.straight ? 'straight' : ''}
                choose={(way) => ask({ ...asked, straight: way !== '' })}
              />
            </Word>
            , ranked by{' '}
            <Word role="way" text={asked.rank === 'difference' ? 'change inside groups' : 'strength'}>
              <Options
                name="Ranked by"
                list={[
                  { value: 'strength', name: 'strength' },
                  { value: 'difference', name: 'change inside groups' },
                ]}
                chosen={asked.rank ?? 'strength'}
                choose={(rank) => ask({ ...asked, rank: rank as PairsWanted['rank'] })}
              />
            </Word>
            , for{' '}
            <Word role="column" text={outcome ? `pairs with ${outcome.name.toLowerCase()}` : 'every pair'}>
              <Options
                name="Pairs"
                list={[{ value: '', name: 'every pair' }, ...found.columns.map((c) => ({ value: c.column, name: c.name }))]}
                chosen={asked.outcome ?? ''}
                choose={(column) => ask({ ...asked, outcome: column })}
              />
            </Word>
            .
          </>
        )}
      </p>
    </section>
  )
}

function Word({ role, text, children }: { role: 'column' | 'way'; text: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger className={`${wordLook(role)} hover:bg-copper-wash data-[state=open]:bg-copper-wash`}>{text}</Popover.Trigger>
      <Popover.Portal container={over()}>
        <Popover.Content
          aria-label={`In place of ${text}`}
          align="start"
          sideOffset={6}
          collisionPadding={12}
          className="z-20 max-h-[70vh] min-w-52 overflow-y-auto rounded-xl border border-line bg-strip p-2 font-sans text-sm text-ink shadow-xl"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Options({
  name,
  list,
  chosen,
  choose,
}: {
  name: string
  list: { value: string; name: string }[]
  chosen: string
  choose: (value: string) => void
}) {
  return (
    <ul aria-label={name}>
      {list.map((option) => (
        <li key={option.value}>
          <Popover.Close
            aria-pressed={option.value === chosen}
            onClick={() => choose(option.value)}
            className={`w-full rounded-md px-3 py-1.5 text-left hover:bg-copper-wash hover:text-copper ${option.value === chosen ? 'font-semibold' : ''}`}
          >
            {option.name}
          </Popover.Close>
        </li>
      ))}
    </ul>
  )
}

/** Which columns are looked at; each press looks anew. */
function Columns({ found, asked, ask }: { found: PairsFound; asked: PairsWanted; ask: (next: PairsWanted) => void }) {
  const here = asked.columns?.length ? asked.columns : found.columns.map((c) => c.column) // what is asked shows at once
  const turn = (column: string) => ask({ ...asked, columns: here.includes(column) ? here.filter((c) => c !== column) : [...here, column] })
  return (
    <fieldset>
      <legend className="px-3 pt-1 pb-1.5 text-[13px] text-muted">At least two, at most {found.most}</legend>
      {found.candidates.map((c) => {
        const on = here.includes(c.column)
        return (
          <label key={c.column} className="flex items-center gap-2.5 rounded-md px-3 py-1.5 hover:bg-copper-wash">
            <input
              type="checkbox"
              className="accent-(--verdigris)"
              checked={on}
              disabled={on ? here.length <= 2 : here.length >= found.most}
              onChange={() => turn(c.column)}
            />
            {c.name}
          </label>
        )
      })}
    </fieldset>
  )
}
