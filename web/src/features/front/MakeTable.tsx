import { useQueryClient } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { useNavigate } from 'react-router'
import { api, Refusal } from '../../api/client'
import { over } from '../../ui/over'

/** Tables to begin with; every clause can be pressed and said otherwise afterwards. */
const STARTERS: { name: string; help: string; typed?: string; at?: string }[] = [
  {
    name: 'Rows of chance',
    help: 'two columns that go together, with noise',
    typed: 'make 200 rows\nwork out x = normal(50, 10)\nwork out y = 20 + 0.5 * x + normal(0, 6)\n',
  },
  { name: 'Groups that turn a trend round', help: 'built by hand: drag the groups, the verdict follows', at: '/build' },
  {
    name: 'A curve',
    help: 'a formula over evenly spaced values',
    typed: 'make 200 rows with x from -3 to 3\nwork out y = power(x, 3) - 4 * x\n',
  },
  {
    name: 'A walk over business days',
    help: 'dates, and a running sum of chance',
    typed:
      "make 250 rows with day every business day from '2031-01-01'\nwork out step = normal(0, 1)\nwork out level = 100 + running_sum(step)\n",
  },
]

/** Begins a table from nothing. */
export function MakeTable({ refused }: { refused: (fault: Refusal) => void }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const make = async (starter: (typeof STARTERS)[number]) => {
    if (starter.at) return navigate(starter.at)
    try {
      const dataset = await api.make(starter.name, starter.typed!)
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      navigate(`/dataset/${dataset.id}/data`)
    } catch (fault) {
      refused(fault as Refusal)
    }
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="button-plain">Make a table…</DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-20 w-80 rounded-lg border border-line bg-strip p-1.5 text-ink shadow-xl"
        >
          {STARTERS.map((starter) => (
            <DropdownMenu.Item
              key={starter.name}
              onSelect={() => make(starter)}
              className="cursor-pointer rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
            >
              {starter.name}
              <span className="block text-[13px] text-muted">{starter.help}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
