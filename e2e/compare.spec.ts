import { chart, expect, hoverFor, openForage, test, type } from './pages'
import type { Page } from '@playwright/test'

/** Types the chart anew, and waits until that is a step. */
async function typed(page: Page, sentence: string, steps: number) {
  await type(page, sentence)
  await expect(page.locator('section[aria-label=Trail] li')).toHaveCount(steps)
}

test('two steps are laid beside each other: words, rows, slopes, one hand over both, and kept as a page', async ({ page }) => {
  await openForage(page)
  const plot = 'plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall'
  await typed(page, `of rows where season >= 2029\n${plot}\nsize by mites_per_100`, 2)
  await page.locator('section[aria-label=Trail]').focus()
  await page.keyboard.press('c')
  const [a, b] = [page.getByRole('region', { name: 'Chart A' }), page.getByRole('region', { name: 'Chart B' })]
  for (const side of [a, b]) await expect(side.locator('.lark-chart')).toHaveAttribute('data-painted', /\d/)
  // What they say otherwise is marked in both sentences, and nothing else.
  const said = page.getByRole('region', { name: 'Sentence of B' }).locator('[data-differs]')
  expect((await said.allTextContents()).join('')).toMatch(/^Of rows where season is at least 2029, ?.*sized by mite count/)
  expect((await page.getByRole('region', { name: 'Sentence of A' }).locator('[data-differs]').allTextContents()).join('')).not.toContain(
    'honey',
  )
  const slopes = page.getByRole('region', { name: 'Fits side by side' })
  await expect(slopes.getByRole('row')).toHaveCount(7)
  await expect(slopes.getByRole('row', { name: /all districts/ })).toContainText('628')
  // Rows that only one leaves out are counted, ringed and listed.
  const only = page.getByRole('region', { name: 'Rows that only one leaves out' })
  await expect(only).toContainText('not of rows where season >= 2029')
  await only.getByRole('button', { name: 'only B leaves out' }).click()
  await expect(only.getByRole('row')).toHaveCount(13)
  await expect(only.getByRole('rowheader').first()).toHaveText(/^\d+$/)
  // A row that is pointed at in B is ringed in A.
  const before = await a.locator('.lark-over').evaluate((c: HTMLCanvasElement) => c.toDataURL())
  await hoverFor(page, 'kg', b.locator('.lark-chart'), b.locator('.lark-card'))
  await expect.poll(() => a.locator('.lark-over').evaluate((c: HTMLCanvasElement) => c.toDataURL())).not.toBe(before)
  // The handle lays one over the other, by the keys too.
  const apart = (await b.boundingBox())!.x
  await page.getByRole('slider', { name: 'Lay B over A' }).focus()
  await page.keyboard.press('Home')
  await expect.poll(async () => (await b.boundingBox())!.x).toBe((await a.boundingBox())!.x)
  await page.keyboard.press('End')
  await expect.poll(async () => (await b.boundingBox())!.x).toBe(apart)
  // S swaps, an arrow walks the chosen side, and Escape goes back.
  await page.getByRole('heading', { name: 'Fits side by side' }).click()
  await page.keyboard.press('s')
  await expect(page.getByRole('region', { name: 'Sentence of A' })).toContainText('mite count')
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('region', { name: 'Sentence of B' })).toContainText('mite count')
  await expect(page.getByText('Both leave out the same rows.')).toBeVisible()
  await page.keyboard.press('s')
  await page.getByRole('button', { name: 'first look: put' }).or(page.locator('section[aria-label=Trail] button').first()).first().click()
  await page.getByRole('button', { name: 'Put both on a page' }).click()
  await expect(page).toHaveURL(/\/page\/\d+$/)
  await expect(chart(page)).toHaveCount(2)
  await expect(page.getByLabel('charts of one column share its axis')).toBeChecked()
})

test('a step is dragged onto the chart to be compared, and another chart is put in its place', async ({ page }) => {
  await openForage(page)
  await typed(page, 'plot honey_kg against mites_per_100\nfit line', 2)
  await page
    .locator('section[aria-label=Trail] li button')
    .first()
    .dragTo(page.getByRole('region', { name: 'Chart', exact: true }))
  await expect(page).toHaveURL(/compare\?/)
  await expect(page.getByText('Slopes are not compared: slopes are compared of the same columns')).toBeVisible()
  await page.getByLabel('Chart of A').selectOption({ label: 'Mites and honey' })
  await expect(page.getByRole('region', { name: 'Sentence of A' })).toContainText('mite')
  await expect(page.getByRole('region', { name: 'Fits side by side' }).getByRole('table')).toBeVisible()
  await page.getByRole('heading', { name: 'Fits side by side' }).click()
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(/\/chart\/\d+$/)
})

test('a chart that is split by a column stands beside the same unsplit by one press', async ({ page }) => {
  await openForage(page)
  await page.getByRole('button', { name: 'overall beside groups' }).click()
  await expect(page).toHaveURL(/compare\?/)
  await expect(page.getByRole('region', { name: 'Sentence of B' })).toContainText('each district and overall')
  await expect(page.getByRole('region', { name: 'Sentence of A' })).toContainText('to all rows')
  const slopes = page.getByRole('region', { name: 'Fits side by side' })
  await expect(slopes.getByRole('row', { name: /Tarn/ })).toContainText('no such line')
  await page.keyboard.press('Escape')
  await expect(page.locator('section[aria-label=Trail] ol').first().locator('button[aria-current=step]')).toHaveText('first look')
})

test('a comparison is kept under a name, found on the front page, and shared', async ({ page }) => {
  await openForage(page)
  await page.getByRole('button', { name: 'overall beside groups' }).click()
  await page.getByLabel('each with its own axes').check()
  const called = `Overall beside groups ${Math.random()}`
  await page.getByRole('button', { name: 'Keep…' }).click()
  await page.getByLabel('Name', { exact: true }).fill(called)
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.goto(`/?find=${encodeURIComponent(called)}`)
  await page.getByRole('region', { name: 'Comparisons' }).getByRole('link', { name: called }).click()
  await expect(page.getByLabel('each with its own axes')).toBeChecked()
  await expect(page.getByRole('region', { name: 'Sentence of A' })).toContainText('to all rows')
  await page.getByRole('button', { name: 'Share…' }).click()
  await expect(page).toHaveURL(/\/page\/\d+/)
  await expect(page.getByRole('dialog')).toBeVisible()
})
