import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { api, type Refusal } from '../../api/client'
import type { Bench } from '../../state/bench'
import { Trouble } from '../../ui/Words'

const FORMS = [
  { format: 'png', label: 'PNG', detail: 'a picture, twice as sharp as the screen', scale: 2 },
  { format: 'svg', label: 'SVG', detail: 'vector graphics, text stays text' },
  { format: 'svg', label: 'SVG, letters as outlines', detail: 'looks the same without the fonts', fonts: 'outlines' },
  { format: 'pdf', label: 'PDF', detail: 'a page with its fonts' },
  { format: 'pdf', label: 'PDF for a printer without colours', detail: 'in black and greys', look: 'ink' },
] as const

/** Saves the chart as a file, as large as it is on the screen. */
export function SaveMenu({ bench }: { bench: Bench }) {
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const save = async ({ label: _label, detail: _detail, ...form }: (typeof FORMS)[number]) => {
    setBusy(true)
    setTrouble(null)
    try {
      const { name, content } = await api.drawing(bench.version, {
        document: bench.get().document,
        ...(bench.get().document.manner?.paper ? {} : bench.paper),
        ...form,
      })
      const link = document.createElement('a')
      link.href = URL.createObjectURL(content)
      link.download = name
      link.click()
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="link text-[13px] whitespace-nowrap" disabled={busy}>
          {busy ? 'Drawing…' : 'Save picture'}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            side="top"
            align="end"
            sideOffset={6}
            className="z-20 min-w-64 rounded-xl border border-line bg-strip p-1.5 text-ink shadow-xl"
          >
            {FORMS.map((form) => (
              <DropdownMenu.Item
                key={form.label}
                className="cursor-pointer rounded-lg px-3 py-1.5 outline-none data-highlighted:bg-copper-wash"
                onSelect={() => void save(form)}
              >
                <span className="block font-semibold">{form.label}</span>
                <span className="block text-[13px] text-muted">{form.detail}</span>
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
    </>
  )
}
