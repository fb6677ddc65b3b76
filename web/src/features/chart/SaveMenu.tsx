import { Popover } from 'radix-ui'
import { useState } from 'react'
import { api, Refusal } from '../../api/client'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { Trouble } from '../../ui/Words'
import { over } from '../../ui/over'

const FORMS = [
  { format: 'png', label: 'PNG', detail: 'a picture' },
  { format: 'svg', label: 'SVG', detail: 'vector graphics, text stays text' },
  { format: 'svg', label: 'SVG, letters as outlines', detail: 'looks the same without the fonts', fonts: 'outlines' },
  { format: 'pdf', label: 'PDF', detail: 'a page with its fonts' },
  { format: 'pdf', label: 'PDF for a printer without colours', detail: 'in black and greys', look: 'ink' },
] as const

type Unit = 'px' | 'mm'

interface Size {
  width: string
  height: string
  unit: Unit
}

/** How many pixels a millimetre has, at 96 an inch. */
const PER_MILLIMETRE = 96 / 25.4
/** The smallest and the largest side of a picture, in pixels, as the server draws it. */
const [LEAST, MOST] = [160, 8000]
/** How many pixels of a PNG one pixel of the paper becomes. */
const SCALES = [1, 2, 3, 4]

const SIZES: (Size & { label: string })[] = [
  { label: 'a report', width: '900', height: '560', unit: 'px' },
  { label: 'a slide', width: '1280', height: '720', unit: 'px' },
  { label: 'square', width: '640', height: '640', unit: 'px' },
  { label: 'a page', width: '160', height: '100', unit: 'mm' },
  { label: 'a column', width: '80', height: '60', unit: 'mm' },
]

/** A side in pixels; 0 where it is none that can be drawn. */
function pixels(typed: string, unit: Unit): number {
  const side = Number(typed.replace(',', '.')) * (unit === 'mm' ? PER_MILLIMETRE : 1)
  return side >= LEAST && side <= MOST ? Math.round(side) : 0
}

/** Saves the chart as a file: in which form, how large and how sharp is asked. */
export function SaveMenu({ bench }: { bench: Bench }) {
  const { document } = useBench(bench, 'document')
  const [open, setOpen] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const [size, setSize] = useState<Size>(SIZES[0])
  const [scale, setScale] = useState(2)
  const [clear, setClear] = useState(false)
  const [copied, setCopied] = useState(false)
  const said = document.manner?.paper
  const [width, height] = [pixels(size.width, size.unit), pixels(size.height, size.unit)]
  const wrong = !said && !(width && height)
  const drawn = (form: Pick<(typeof FORMS)[number], 'format'>) =>
    api.drawing(bench.version, {
      document: bench.get().document,
      ...(said ? {} : { width, height }),
      ...(form.format === 'png' ? { scale } : {}),
      clear,
      ...form,
    })
  const copy = async () => {
    setTrouble(null)
    try {
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': drawn({ format: 'png' }).then(({ content }) => content) })])
      setCopied(true)
    } catch (fault) {
      const words = fault instanceof Refusal ? fault : new Refusal(0, 'the browser does not let the picture be copied', 'save it as a file')
      setTrouble(words)
    }
  }
  const save = async ({ label: _label, detail: _detail, ...form }: (typeof FORMS)[number]) => {
    setBusy(true)
    setTrouble(null)
    try {
      const { name, content } = await drawn(form)
      const link = window.document.createElement('a')
      link.href = URL.createObjectURL(content)
      link.download = name
      link.click()
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
      setOpen(false)
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="link text-[13px] whitespace-nowrap">Save picture</Popover.Trigger>
      <Popover.Portal container={over()}>
        <Popover.Content
          aria-label="Save the picture"
          side="top"
          align="end"
          sideOffset={6}
          collisionPadding={12}
          className="z-20 flex w-[340px] flex-col gap-3 rounded-xl border border-line bg-strip p-4 text-ink shadow-2xl outline-none"
        >
          <h3 className="font-serif text-base font-semibold">Save the picture</h3>
          {said ? (
            <p className="text-[13px] text-muted">
              Its paper is {said.width} by {said.height} {said.millimetres ? 'mm' : 'px'}, as the sentence says.
            </p>
          ) : (
            <SizeFields size={size} setSize={setSize} screen={bench.paper} wrong={wrong} />
          )}
          <fieldset className="flex items-center gap-1.5 text-[13px]">
            <legend className="sr-only">Sharpness of a PNG</legend>
            <span className="mr-1 text-muted">PNG, pixels a pixel of the paper:</span>
            {SCALES.map((one) => (
              <label
                key={one}
                className="cursor-pointer rounded-md border border-line px-1.5 py-0.5 has-checked:border-copper has-checked:bg-copper-wash has-focus-visible:outline-2"
              >
                <input type="radio" name="sharpness" className="sr-only" checked={scale === one} onChange={() => setScale(one)} />
                {one}
              </label>
            ))}
          </fieldset>
          <label className="flex items-center gap-2 text-[13px]">
            <input type="checkbox" className="accent-copper" checked={clear} onChange={(e) => setClear(e.target.checked)} />
            without paper: what lies below is seen
          </label>
          <button type="button" className="button-plain self-start" disabled={busy || wrong} onClick={() => void copy()}>
            {copied ? 'Copied' : 'Copy as PNG'}
          </button>
          <ul className="-mx-2 flex flex-col" aria-label="Forms">
            {FORMS.map((form) => (
              <li key={form.label}>
                <button
                  type="button"
                  className="w-full rounded-lg px-2 py-1.5 text-left hover:bg-copper-wash disabled:opacity-55"
                  disabled={busy || wrong}
                  onClick={() => void save(form)}
                >
                  <span className="block font-semibold">{form.label}</span>
                  <span className="block text-[13px] text-muted">
                    {form.format === 'png' && !wrong && !said ? `${width * scale} by ${height * scale} pixels` : form.detail}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {busy && (
            <p role="status" className="text-[13px] text-muted">
              Drawing…
            </p>
          )}
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

interface FieldsProps {
  size: Size
  setSize: (size: Size) => void
  screen: { width: number; height: number }
  wrong: boolean
}

/** How large the picture is: typed, or one of a few in a press. */
function SizeFields({ size, setSize, screen, wrong }: FieldsProps) {
  const onScreen: Size & { label: string } = {
    label: 'as on the screen',
    width: String(Math.round(screen.width)),
    height: String(Math.round(screen.height)),
    unit: 'px',
  }
  const side = (name: 'width' | 'height') => (
    <input
      className="field w-20 tabular-nums"
      aria-label={name === 'width' ? 'Width' : 'Height'}
      inputMode="decimal"
      value={size[name]}
      aria-invalid={wrong}
      onChange={(e) => setSize({ ...size, [name]: e.target.value })}
    />
  )
  return (
    <div className="flex flex-col gap-1.5 text-[13px]">
      <span className="flex items-center gap-2">
        {side('width')} by {side('height')}
        <select
          className="field w-auto"
          aria-label="Unit of the size"
          value={size.unit}
          onChange={(e) => setSize({ ...size, unit: e.target.value as Unit })}
        >
          <option value="px">pixels</option>
          <option value="mm">mm</option>
        </select>
      </span>
      <span className="flex flex-wrap gap-x-3 gap-y-1">
        {[...SIZES, onScreen].map(({ label, ...one }) => (
          <button key={label} type="button" className="link min-h-6 min-w-6" onClick={() => setSize(one)}>
            {label}
          </button>
        ))}
      </span>
      {wrong && (
        <p role="alert" className="text-copper">
          A picture is from {LEAST} to {MOST.toLocaleString('en')} pixels wide and high, which is {Math.ceil(LEAST / PER_MILLIMETRE)} to{' '}
          {Math.floor(MOST / PER_MILLIMETRE).toLocaleString('en')} mm.
        </p>
      )}
    </div>
  )
}
