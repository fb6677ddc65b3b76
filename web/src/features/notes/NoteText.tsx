import { useQuery } from '@tanstack/react-query'
import { api, type Member } from '../../api/client'

/** The people of the space, for naming them. */
export function usePeople(): Member[] {
  return (useQuery({ queryKey: ['people'], queryFn: api.people, staleTime: 60_000 }).data as Member[] | undefined) ?? []
}

/** What somebody wrote, with the names of people in it marked. */
export function NoteText({ text }: { text: string }) {
  const names = usePeople().map((p) => p.name)
  return (
    <p className="text-[14px] leading-[1.4] wrap-anywhere whitespace-pre-wrap" dir="auto">
      {pieces(text, names).map(({ said, named }, i) => (named ? <strong key={i}>{said}</strong> : said))}
    </p>
  )
}

/** A text cut where it names somebody: @ before a name, the longest that fits. */
export function pieces(text: string, names: string[]): { said: string; named: boolean }[] {
  const longest = [...new Set(names)].filter(Boolean).sort((a, b) => b.length - a.length)
  const out: { said: string; named: boolean }[] = []
  let plain = ''
  for (let at = 0; at < text.length;) {
    const rest = text.slice(at + 1).toLowerCase()
    const name = text[at] === '@' ? longest.find((n) => rest.startsWith(n.toLowerCase())) : undefined
    if (!name) {
      plain += text[at++]
      continue
    }
    if (plain) out.push({ said: plain, named: false })
    plain = ''
    out.push({ said: text.slice(at, at + 1 + name.length), named: true })
    at += 1 + name.length
  }
  if (plain) out.push({ said: plain, named: false })
  return out
}
