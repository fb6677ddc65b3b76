import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'

const root = fileURLToPath(new URL('../src', import.meta.url))

/** The rooms that draw, from the bottom up, and those beside them that talk to the server and to people. A room imports itself and those before it. */
const ROOMS = ['scale', 'figure', 'painter', 'interact', 'api', 'state', 'ui', 'sentence', 'features', 'reader', 'app']
/** What a shared page ships: no React, and nothing of the server but the figure. */
const BARE = ['scale', 'figure', 'painter', 'interact', 'reader']

const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => /\.tsx?$/.test(f) && !f.endsWith('.d.ts'))
const roomOf = (file: string) => (file.includes('/') ? file.split('/')[0] : 'app')

/** What a file imports: its own files by their names below src, packages as they are called. */
function imports(file: string): string[] {
  const text = readFileSync(join(root, file), 'utf8')
  const named = [...text.matchAll(/\bfrom '([^'\n]+)'|\bimport\('([^'\n]+)'\)|^import '([^'\n]+)'/gm)]
  return named
    .map((m) => m[1] ?? m[2] ?? m[3])
    .map((name) => {
      if (!name.startsWith('.')) return name
      const path = relative(root, resolve(root, dirname(file), name))
      return files.find((f) => f === path || f.replace(/\.tsx?$/, '') === path || f.replace(/\/index\.tsx?$/, '') === path) ?? path
    })
}

const graph = new Map(files.map((f) => [f, imports(f)]))

test('no room imports one above it, and what a shared page ships knows no React', () => {
  const wrong: string[] = []
  for (const [file, list] of graph)
    for (const to of list) {
      if (/^(react|radix-ui|@tanstack)/.test(to) && BARE.includes(roomOf(file))) wrong.push(`${file} imports ${to}`)
      if (!graph.has(to)) continue
      const [from, into] = [roomOf(file), roomOf(to)]
      if (ROOMS.indexOf(into) > ROOMS.indexOf(from)) wrong.push(`${file} imports ${to}, which stands above it`)
      if (BARE.includes(from) && !BARE.includes(into)) wrong.push(`${file} is shipped with shared pages and imports ${to}`)
    }
  expect(wrong).toEqual([])
  expect([...new Set(files.map(roomOf))].filter((room) => !ROOMS.includes(room))).toEqual([])
  expect(graph.get('painter/painter.ts')).toContain('figure/figure.ts') // what is imported is found at all
})

test('no files import each other in a circle', () => {
  const done = new Set<string>()
  const walk = (file: string, above: string[]): string[] | null => {
    if (above.includes(file)) return [...above.slice(above.indexOf(file)), file]
    if (done.has(file)) return null
    for (const to of graph.get(file) ?? []) {
      const circle = graph.has(to) ? walk(to, [...above, file]) : null
      if (circle) return circle
    }
    done.add(file)
    return null
  }
  for (const file of files) expect(walk(file, [])).toBeNull()
})
