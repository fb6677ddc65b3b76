import { useLayoutEffect, useRef, useState } from 'react'
import type { Figure } from '../../figure/figure'
import { valueTable } from '../../interact/values'
import { Dialog } from '../../ui/Dialog'

/** What is drawn, as a table, for whoever reads numbers rather than marks. */
export function ValuesButton({ figure }: { figure: Figure }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <button type="button" className="link shrink-0 pb-0.5 text-[13px]" onClick={() => setOpen(true)}>
        Table of values
      </button>
      {open && (
        <Dialog title="Table of values" onClose={() => setOpen(false)}>
          <Values figure={figure} />
        </Dialog>
      )}
    </>
  )
}

function Values({ figure }: { figure: Figure }) {
  const box = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => box.current?.replaceChildren(valueTable(figure)), [figure])
  return <div ref={box} className="values max-h-[60vh] overflow-auto" />
}
