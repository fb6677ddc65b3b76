import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, Refusal } from '../../api/client'
import type { Figure, Selection } from '../../figure/figure'
import type { Bench } from '../../state/bench'
import { ColourField } from '../../ui/ColourField'

/** The colour of the one value that is looked at alone, kept with its column for all charts. */
export function OwnColour({ figure, selection, dataset, bench }: { figure: Figure; selection: Selection; dataset: number; bench: Bench }) {
  const queries = useQueryClient()
  const meanings = useQuery({ queryKey: ['meanings', dataset], queryFn: () => api.meanings(dataset) })
  const [trouble, setTrouble] = useState('')
  const key = figure.keys[selection.key - 1]
  const entry = selection.entries.length === 1 ? key?.entries?.[selection.entries[0]] : undefined
  const said = meanings.data?.find((m) => m.column === key?.column)
  if (!entry?.light || entry.rest || !said?.values) return null
  const value = said.values.find((v) => (said.codes?.[v] ?? v) === entry.name)
  if (value === undefined) return null
  const keep = async (colour: string) => {
    setTrouble('')
    try {
      await api.setMeaning(dataset, { ...said, colours: { ...said.colours, [value]: colour } })
      await Promise.all(['meanings', 'dataset'].map((k) => queries.invalidateQueries({ queryKey: [k] })))
      await bench.again()
    } catch (fault) {
      setTrouble((fault as Refusal).message)
    }
  }
  return (
    <span className="flex shrink-0 items-center gap-2 text-[13px] text-muted">
      its colour in all charts
      <ColourField
        label={`Colour of ${entry.name}`}
        value={said.colours?.[value] ?? ''}
        usual={entry.light}
        keep={(colour) => void keep(colour)}
      />
      {trouble && (
        <span role="alert" className="text-copper">
          {trouble}
        </span>
      )}
    </span>
  )
}
