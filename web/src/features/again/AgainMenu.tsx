import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import type { ColumnProfile, Dataset, Document } from '../../api/client'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { useMakes } from '../../ui/may'
import { ITEM, MENU } from '../../ui/menu'
import { over } from '../../ui/over'
import { announce } from '../../ui/title'
import { FitDialog, type FitSource } from './FitDialog'
import { ForEach } from './ForEach'
import { KeepLook, LayLook } from './Looks'
import { KeepPattern, ChoosePattern } from './Patterns'

/** What is open: a dialog of the menu. */
type Open = 'columns' | 'over' | 'keep pattern' | 'patterns' | 'keep looks' | 'looks' | null

/** What can be done with a chart to have it again: copied, for other columns, over another table, as a pattern, its looks on others. */
export function AgainMenu({ bench, dataset, columns }: { bench: Bench; dataset: Dataset; columns: ColumnProfile[] }) {
  const { drawing, document } = useBench(bench, 'drawing', 'document')
  const makes = useMakes()
  const [open, setOpen] = useState<Open>(null)
  const [pattern, setPattern] = useState<FitSource | null>(null)
  const close = () => setOpen(null)
  const copy = () =>
    void navigator.clipboard.writeText((drawing?.spoken ?? []).map((p) => p.text).join('')).then(
      () => announce('Copied'),
      () => announce('The browser does not allow copying here'),
    )
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="button-plain max-[1100px]:hidden" disabled={!drawing}>
          Use again <span aria-hidden>▾</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal container={over()}>
          <DropdownMenu.Content className={MENU} align="end" sideOffset={4}>
            <Item say="Copy the sentence" more="typed or pasted again, it is this chart" act={copy} />
            {makes && <Item say="For other columns…" more="a page of small charts" act={() => setOpen('columns')} />}
            <Item say="Over another table…" more="its columns are proposed" act={() => setOpen('over')} />
            <Item say="Swap x and y" act={() => void bench.amend({ swap: true })} />
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            {makes && <Item say="Keep as a pattern…" more="its columns become blanks" act={() => setOpen('keep pattern')} />}
            <Item say="Use a pattern here…" act={() => setOpen('patterns')} />
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            {makes && <Item say="Keep its looks…" more="and its scales, under a name" act={() => setOpen('keep looks')} />}
            <Item say="Lay kept looks on it…" act={() => setOpen('looks')} />
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {open === 'columns' && <ForEach bench={bench} columns={columns} onClose={close} />}
      {open === 'over' && <FitDialog source={sentenceOf(document, bench.version)} but={dataset.id} close={close} />}
      {open === 'keep pattern' && <KeepPattern bench={bench} close={close} />}
      {open === 'patterns' && (
        <ChoosePattern
          close={close}
          choose={(chosen) => {
            close()
            setPattern({ pattern: chosen })
          }}
        />
      )}
      {pattern && <FitDialog source={pattern} over={dataset} close={() => setPattern(null)} />}
      {open === 'keep looks' && <KeepLook document={document} close={close} />}
      {open === 'looks' && <LayLook bench={bench} close={close} />}
    </>
  )
}

const sentenceOf = (document: Document, version: number): FitSource => ({ document, version })

function Item({ say, more, act }: { say: string; more?: string; act: () => void }) {
  return (
    <DropdownMenu.Item className={ITEM} onSelect={act}>
      {say}
      {more && <span className="block text-xs text-muted">{more}</span>}
    </DropdownMenu.Item>
  )
}
