import type { Page } from '@playwright/test'
import { chart, expect, hiveSeasons, openForage, sentence, state, test } from './pages'

async function again(page: Page, item: string | RegExp) {
  await page.getByRole('button', { name: /^Use again/ }).click()
  await page.getByRole('menuitem', { name: item }).click()
}

/** Keeps a table of the test's own. */
async function keep(page: Page, name: string, content: string): Promise<{ id: number; version_id: number }> {
  const read = await page.request.post('/api/uploads?name=own.csv', { data: Buffer.from(content) })
  return await (await page.request.post(`/api/uploads/${(await read.json()).key}/keep`, { data: { name } })).json()
}

const ORCHARDS = `ground_ha,apples_kg,valley\n${Array.from({ length: 40 }, (_, i) => `${i + 1},${(60 - i + (i % 5)).toFixed(1)},${['Tarn', 'Brindle'][i % 2]}`).join('\n')}\n`

test('a pattern is kept, and used over a table whose columns are called otherwise', async ({ page }) => {
  const name = `Orchards ${Math.random()}`
  const orchards = await keep(page, name, ORCHARDS)
  await openForage(page)
  const called = `Yield by land ${Math.random()}`
  await again(page, /^Keep as a pattern/)
  await page.getByLabel('Name', { exact: true }).fill(called)
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.goto(`/dataset/${orchards.id}/chart`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await again(page, 'Use a pattern here…')
  if (await page.getByLabel('Find a pattern').isVisible()) await page.getByLabel('Find a pattern').fill(called)
  await page.getByRole('button', { name: called }).click()
  const here = (blank: string) => page.getByLabel(`What stands for ${blank}`)
  await expect(here('Honey yield')).toHaveValue('apples_kg')
  await expect(here('Forage area')).toHaveValue('ground_ha')
  await expect(here('District')).toHaveValue('valley')
  await expect(page.getByRole('alert')).toContainText('Nothing stands for')
  await expect(page.getByRole('button', { name: 'Open the chart' })).toBeDisabled()
  for (const blank of ['Brood frames', 'Hive type']) await here(blank).selectOption('leave it out')
  await page.getByRole('button', { name: 'Open the chart' }).click()
  await expect(sentence(page)).toContainText('Plot apples against ground')
  await expect(sentence(page)).toContainText('coloured by valley')
  await expect(sentence(page)).not.toContainText('sized')
  await expect(chart(page)).toHaveAttribute('data-painted', '40')
})

test('looks and scales are kept under a name and laid on another chart, and axes are swapped', async ({ page }) => {
  await state(page, "plot honey_kg against forage_ha\nlog x\ngrid off\ntitle 'Mine alone'")
  const called = `For the yearbook ${Math.random()}`
  await again(page, /^Keep its looks/)
  await page.getByLabel('Name', { exact: true }).fill(called)
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await state(page, 'plot honey_kg against altitude_m\nkey top')
  await again(page, /^Lay kept looks/)
  await page.getByRole('button', { name: called, exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(sentence(page)).toContainText('log scale')
  await expect(sentence(page)).not.toContainText('Mine alone')
  await again(page, 'Swap x and y')
  await expect(sentence(page)).toContainText(/Plot altitude on a log scale against honey yield/)
})

test('a pasted sentence is its chart: where a table is looked at, and on the front page over one that is chosen', async ({ page }) => {
  const paste = (text: string) =>
    page.evaluate((text) => {
      const data = new DataTransfer()
      data.setData('text/plain', text)
      document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
    }, text)
  await page.goto(`/dataset/${await hiveSeasons(page)}/data`)
  await expect(page.getByRole('cell').first()).toBeVisible()
  await paste('Plot honey yield against altitude, coloured by district.')
  await expect(sentence(page)).toContainText('Plot honey yield against altitude, coloured by district')
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  await paste('plot honey_kg against mites_per_100')
  await page.getByRole('button', { name: 'over Hive seasons', exact: true }).click()
  await expect(sentence(page)).toContainText('Plot honey yield against mite count')
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  await paste('plot nothing against nowhere')
  await page.getByRole('button', { name: 'over Hive seasons', exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('nothing')
})

test('what a new file changes of charts is ranked before it is kept, and after', async ({ page }) => {
  const row = (turned: number) => (_: unknown, i: number) =>
    `${(i % 10) + 10 * (i % 2)},${(40 - 30 * (i % 2) + turned * (i % 10) + (i % 3)).toFixed(1)},${['Tarn', 'Brindle'][i % 2]}`
  const file = (turned: number) => `land,honey,place\n${Array.from({ length: 60 }, row(turned)).join('\n')}\n`
  const { id, version_id } = await keep(page, `Turning ${Math.random()}`, file(2))
  for (const [name, typed] of [
    ['It turns', 'plot honey against land\ncolour by place\nfit line for each place and overall'],
    ['It stays', 'plot land against place'],
  ]) {
    await page.goto(`/dataset/${id}/chart?new=${Math.random()}`)
    const drawn = await page.request.post(`/api/versions/${version_id}/figure`, { data: { typed, width: 400, height: 300 } })
    expect(drawn.ok()).toBe(true)
    const head = await drawn.body()
    const { document } = JSON.parse(head.subarray(12, 12 + head.readUInt32LE(8)).toString())
    await page.request.post('/api/charts', { data: { version_id, document, name } })
  }
  await page.goto(`/dataset/${id}/data`)
  await page.getByRole('button', { name: 'Next version …' }).click()
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('menuitem', { name: /file/ }).first().click()
  await (await chooser).setFiles({ name: 'next.csv', mimeType: 'text/csv', buffer: Buffer.from(file(-2)) })
  const moved = page.getByRole('region', { name: 'What it changes of charts' })
  await expect(moved.getByRole('listitem').filter({ hasText: 'It turns' })).toContainText(/says otherwise|another slope/)
  await expect(moved).toContainText('1 chart stays as it is')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await page.getByRole('button', { name: 'Next version …' }).click()
  await page.getByRole('menuitem', { name: /^What version 2 changed/ }).click()
  await moved.getByRole('link', { name: 'compare' }).first().click()
  await expect(page).toHaveURL(/compare/)
  await expect(page.getByText('Clearly another slope')).toBeVisible()
})
