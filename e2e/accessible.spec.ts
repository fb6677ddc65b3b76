import AxeBuilder from '@axe-core/playwright'
import { readFileSync } from 'node:fs'
import { expect, test } from './pages'
import { STATES } from './states'

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
/** Rows of a table beyond the first ones: what holds of one holds of all, and the checker walks over every cell. */
const LIKE_OTHERS = '[role=row][aria-rowindex]:not([aria-rowindex="2"]):not([aria-rowindex="3"])'
/** Sizes of windows, and both papers. */
const LOOKS = [1280, 390].flatMap((width) => (['light', 'dark'] as const).map((scheme) => ({ width, scheme })))

test('every route of the program is among the states that are checked', () => {
  const app = readFileSync(new URL('../web/src/app/App.tsx', import.meta.url), 'utf8')
  const routes = [...app.matchAll(/<Route path="([^"]+)"/g)].map((m) => m[1])
  expect(routes.length).toBeGreaterThan(8)
  expect(routes.filter((route) => !STATES.some((state) => state.route === route))).toEqual([])
})

for (const state of STATES)
  test(`${state.name}: the checker finds nothing, light and dark, wide and on a phone`, async ({ page }) => {
    await state.open(page)
    const found: string[] = []
    for (const { width, scheme } of LOOKS) {
      await page.setViewportSize({ width, height: 800 })
      await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' })
      const { violations } = await new AxeBuilder({ page }).withTags(TAGS).exclude(LIKE_OTHERS).analyze()
      for (const v of violations) found.push(`${scheme} at ${width}: ${v.id}: ${v.nodes.map((n) => n.target).join(' ')}`)
    }
    expect(found).toEqual([])
  })
