import type { ReactNode } from 'react'

export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-muted">
      {what}…
    </p>
  )
}

export function Words({ title, text }: { title: string; text: string }) {
  return (
    <main className="mx-auto max-w-xl px-6 pt-[18vh]">
      <h1 className="mb-3 font-serif text-2xl font-semibold">{title}</h1>
      <p className="font-serif text-lg">
        {text}{' '}
        <a className="link" href="/">
          Front page
        </a>
      </p>
    </main>
  )
}

/** What is wrong and what to do, in one place near its cause. */
export function Trouble({ message, advice, children }: { message: string; advice?: string; children?: ReactNode }) {
  const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1) + (/[.?!]$/.test(text) ? '' : '.')
  return (
    <div role="alert" className="rounded-md border-l-3 border-copper bg-copper-wash px-3 py-2">
      <strong className="font-semibold">{sentence(message)}</strong> {advice && sentence(advice)} {children}
    </div>
  )
}
