import { chart, expect, hiveSeasons, sentence, test } from './pages'
import type { Page } from '@playwright/test'

async function state(page: Page, typed: string) {
  await page.goto(`/dataset/${await hiveSeasons(page)}/chart?new=1`)
  await page.getByRole('button', { name: /Type it/ }).click()
  const field = page.getByLabel('The sentence, typed')
  await field.fill(typed)
  await field.press('Control+Enter')
  await expect(field).toBeHidden()
}

/** The pixels of what is painted over the chart. */
const over = (page: Page) =>
  chart(page)
    .locator('canvas')
    .last()
    .evaluate((c: HTMLCanvasElement) => c.toDataURL())

test('a sentence of the reading lights what it speaks of, offers what it suggests, and becomes the note', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nfit line for each district and overall\n')
  const reading = page.getByRole('complementary', { name: 'Reading' })
  const dark = await over(page)
  const overall = reading.getByRole('button', { name: /^Overall, honey yield/ })
  await overall.click()
  await expect(overall).toHaveAttribute('aria-pressed', 'true')
  await expect.poll(() => over(page)).not.toBe(dark)
  await overall.click()
  await expect.poll(() => over(page)).toBe(dark)
  await reading.getByRole('button', { name: 'log scale along x' }).click()
  await expect(sentence(page)).toContainText('on a log scale')
  await reading.getByRole('button', { name: 'a smoother shows how' }).click()
  await expect(sentence(page)).toContainText('local regression')
  await reading.getByRole('button', { name: 'Take this as the chart’s note' }).click()
  await expect(page.getByRole('region', { name: 'Chart' })).toContainText('Inside all five districts it rises')
})

test('what is taken out can be walked back by hand, and put back; centres are shown from the evidence', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line\n')
  await page
    .getByRole('button', { name: /^district: / })
    .and(page.getByTitle(/What stands behind/))
    .click()
  await page.getByRole('button', { name: 'Centres' }).click()
  await expect(sentence(page)).toContainText('Show the centres of district')
  await page.getByRole('button', { name: 'Take it out' }).click()
  const slider = page.getByRole('slider', { name: 'From as measured to district taken out' })
  await expect(slider).toBeVisible()
  const painted = () =>
    chart(page)
      .locator('canvas')
      .first()
      .evaluate((c: HTMLCanvasElement) => c.toDataURL())
  let out = ''
  await expect // the dots have come to rest
    .poll(async () => {
      const before = out
      out = await painted()
      return out === before
    })
    .toBe(true)
  await slider.fill('0')
  await expect.poll(painted).not.toBe(out)
  await slider.fill('100')
  await expect.poll(painted).toBe(out)
  await page.getByRole('button', { name: 'put it back' }).click()
  await expect(slider).toBeHidden()
})

test('groups are explained too: what differs between two of them, with a third column held fixed', async ({ page }) => {
  await state(page, 'plot honey_kg against keeper_school\n')
  const explained = page.getByRole('region', { name: 'What else could explain it?' })
  await expect(explained).toContainText('Differences in kg, from')
  await expect(explained.getByRole('button', { name: /out$/ })).toHaveCount(0) // groups cannot be moved
  await explained
    .getByTitle(/What stands behind/)
    .first()
    .click()
  await expect(page.getByRole('complementary', { name: 'Evidence' }).getByRole('columnheader', { name: 'difference' })).toBeVisible()
})

test('a reversal is built by hand, with the mouse and with keys, and kept as a table', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Make a table…' }).click()
  await page.getByRole('menuitem', { name: 'Groups that turn a trend round' }).click()
  const reading = page.getByRole('complementary', { name: 'Reading' })
  await expect(reading.getByRole('status')).toContainText('reverses')
  const centre = page.getByLabel(/The centre of Ashcombe/)
  const box = (await centre.boundingBox())!
  await page.mouse.move(box.x + 11, box.y + 11)
  await page.mouse.down()
  await page.mouse.move(box.x + 11, box.y - 420, { steps: 6 })
  await page.mouse.up()
  await expect(reading.getByRole('status')).not.toContainText('reverses')
  for (let i = 0; i < 70; i++) await centre.press('ArrowDown')
  await expect(reading.getByRole('status')).toContainText('reverses')
  await page.getByLabel('Noise about the lines').fill('0')
  await page.getByRole('button', { name: 'Add a group' }).click()
  await expect(page.getByLabel(/The centre of Tarn/)).toBeVisible()
  await page.getByRole('button', { name: 'One less' }).click()
  await page.getByRole('button', { name: 'Keep as a table' }).click()
  await expect(sentence(page)).toContainText('Plot y against x')
  await expect(page.getByText('180 of 180 rows drawn')).toBeVisible()
})

test('rows that were set aside are asked once', async ({ page }) => {
  await page.goto('/')
  const rows = Array.from({ length: 300 }, (_, i) => `${i},${(2 * i + ((i * 37) % 40)).toString()}`)
  await page
    .getByLabel('File with a table')
    .setInputFiles({ name: 'aside.csv', mimeType: 'text/csv', buffer: Buffer.from('x,y\n' + rows.join('\n')) })
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click()
  await page.getByRole('button', { name: 'Type it' }).click()
  await page.getByLabel('The preparation, typed').fill('set aside 20% of rows\n')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('· version 2')).toBeVisible()
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await page.getByRole('button', { name: /Type it/ }).click()
  const field = page.getByLabel('The sentence, typed')
  await field.fill('plot y against x\n')
  await field.press('Control+Enter')
  const aside = page.getByRole('region', { name: 'Rows set aside' })
  await aside.getByRole('button', { name: 'Ask the rows set aside' }).click()
  await expect(aside).toContainText('that nobody had seen say the same')
  await page.reload()
  await expect(aside).toContainText('A chart asks once.')
  await expect(aside.getByRole('button')).toHaveCount(0)
})
