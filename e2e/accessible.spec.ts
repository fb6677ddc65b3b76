import AxeBuilder from '@axe-core/playwright'
import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { chart, demoChart, makeStory, expect, test } from './pages'
import { STATES } from './states'

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
/** Rows of a table beyond the first ones: what holds of one holds of all, and the checker walks over every cell. */
const LIKE_OTHERS = '[role=row][aria-rowindex]:not([aria-rowindex="2"]):not([aria-rowindex="3"])'
/** What can be otherwise on dark paper: the parts and their names are the same on both. */
const OF_COLOURS = ['color-contrast', 'link-in-text-block']
/** What is not looked at is not gathered. */
const QUICK = {
  resultTypes: ['violations' as const],
  preload: false,
  // Beyond the tags: all that is shown stands in a landmark, and what opens has a name.
  rules: { region: { enabled: true }, 'aria-dialog-name': { enabled: true } },
}
/** Sizes of windows, and both papers. */
const LOOKS = [1280, 390].flatMap((width) => (['light', 'dark'] as const).map((scheme) => ({ width, scheme })))

/** What the checker finds on a page, in every look. */
async function checked(page: Page): Promise<string[]> {
  const found: string[] = []
  for (const { width, scheme } of LOOKS) {
    await page.setViewportSize({ width, height: 800 })
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' })
    const checker = new AxeBuilder({ page }).options(QUICK).exclude(LIKE_OTHERS)
    const { violations } = await (scheme === 'dark' ? checker.withRules(OF_COLOURS) : checker.withTags(TAGS)).analyze()
    for (const v of violations) found.push(`${scheme} at ${width}: ${v.id}: ${v.nodes.map((n) => n.target).join(' ')}`)
  }
  return found
}

test('every route of the program is among the states that are checked', () => {
  const app = readFileSync(new URL('../web/src/app/App.tsx', import.meta.url), 'utf8')
  const routes = [...app.matchAll(/<Route path="([^"]+)"/g)].map((m) => m[1])
  expect(routes.length).toBeGreaterThan(8)
  expect(routes.filter((route) => !STATES.some((state) => state.route === route))).toEqual([])
})

for (const state of STATES)
  test(`${state.name}: the checker finds nothing, light and dark, wide and on a phone`, async ({ page }) => {
    await state.open(page)
    expect(await checked(page)).toEqual([])
  })

test('where nobody is signed in: the checker finds nothing, and on a shared page every target is large enough for a finger', async ({
  page,
  browser,
}) => {
  const { id, version_id } = await demoChart(page, 'More forage, more honey?')
  const { document } = await (await page.request.get(`/api/charts/${id}`)).json()
  const { key } = await (await page.request.post('/api/shares', { data: { version_id, document, title: 'For fingers' } })).json()
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    isMobile: true,
    storageState: undefined,
  })
  const reader = await context.newPage()
  await reader.goto(`${process.env.LARK_ADDRESS}/s/${key}`)
  await expect(chart(reader)).toHaveAttribute('data-painted', /\d/)
  await expect(reader.getByText('Tap a mark to read it')).toBeVisible()
  await reader.getByRole('button', { name: 'How this was made' }).tap()
  await reader.getByRole('button', { name: 'Table of values' }).tap()
  const small = await reader.locator('button:visible, a:visible, input:visible').evaluateAll((all) =>
    all
      .map((e) => ({ name: e.textContent || e.getAttribute('aria-label'), box: e.getBoundingClientRect() }))
      .filter(({ box }) => Math.min(box.width, box.height) < 44)
      .map(({ name }) => name),
  )
  expect(small).toEqual([])
  expect(await reader.evaluate(() => document.documentElement.scrollWidth - innerWidth)).toBeLessThanOrEqual(0)
  await context.close()
  const stranger = await browser.newContext({ storageState: undefined })
  const plain = await stranger.newPage()
  await plain.goto(`${process.env.LARK_ADDRESS}/s/${key}`)
  await expect(chart(plain)).toHaveAttribute('data-painted', /\d/)
  expect(await checked(plain)).toEqual([])
  const story = await makeStory(page)
  for (const wanted of [{ live: true }, { password: 'green heather' }]) {
    const { key } = await (await page.request.post(`/api/pages/${story}/share`, { data: wanted })).json()
    await plain.goto(`${process.env.LARK_ADDRESS}/s/${key}`)
    await expect(wanted.live ? chart(plain).first() : plain.getByLabel('Password')).toBeVisible()
    await plain.waitForTimeout(300) // until its keys stand
    expect(await checked(plain)).toEqual([])
  }
  await plain.goto(`${process.env.LARK_ADDRESS}/`)
  await expect(plain.getByLabel('Password')).toBeVisible()
  expect(await checked(plain)).toEqual([])
  await stranger.close()
})
