import { expect, hiveSeasons, newcomer, test } from './pages'

test('the front page finds charts by their reading, datasets by their columns, patterns and notes, and narrows by maker', async ({
  page,
  browser,
}) => {
  const word = `hedgerow${Math.floor(Math.random() * 1e9)}`
  const datasets = await (await page.request.get('/api/datasets')).json()
  const { version_id } = datasets.find((d: { name: string }) => d.name === 'Hive seasons')
  const document = {
    version: 2,
    y: { column: 'honey_kg' },
    x: { column: 'altitude_m' },
    layers: [{ mark: 'dots' }],
    title: `The ${word} of Tarn`,
  }
  const made = await (await page.request.post('/api/charts', { data: { version_id, document, name: `Chart ${word}` } })).json()
  await page.request.post('/api/patterns', { data: { name: `Pattern ${word}`, chart_id: made.id } })
  await page.request.post('/api/notes', { data: { chart_id: made.id, spot: { kind: 'whole' }, text: `Counted ${word} twice` } })
  await page.goto('/')
  const find = page.getByLabel('Find anything')
  const charts = page.getByRole('region', { name: 'Charts' })
  await find.fill(word)
  await expect(charts.getByRole('link', { name: `Chart ${word}` })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Patterns' })).toContainText(`Pattern ${word}`)
  await expect(page.getByRole('region', { name: 'Notes that are found' })).toContainText(`Counted ${word} twice`)
  await expect(page).toHaveURL(new RegExp(`find=${word}`))
  // What the reading says is worded in a moment: then it is found by it.
  await expect(async () => {
    await page.reload()
    await find.fill(`chart ${word} correlation`)
    await expect(charts.getByRole('link', { name: `Chart ${word}` })).toBeVisible({ timeout: 8000 })
  }).toPass({ timeout: 60_000 })
  await find.fill('mites_per_100')
  await expect(page.getByRole('region', { name: 'Datasets' }).getByRole('link', { name: 'Hive seasons', exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'all of it' }).click()
  await expect(find).toHaveValue('')
  // Another maker's charts, and the pattern used from here.
  const bram = await newcomer(browser, page, `Bram ${word}`)
  await bram.request.post('/api/charts', { data: { version_id, document: { ...document, title: '' }, name: `By Bram ${word}` } })
  await bram.close()
  await page.reload()
  await page.getByLabel('By whom').selectOption(`Bram ${word}`)
  await expect(charts.getByRole('listitem')).toHaveCount(1)
  await expect(charts).toContainText(`By Bram ${word}`)
  await page.getByLabel('By whom').selectOption('by anybody')
  await find.fill(`pattern ${word}`)
  await page
    .getByRole('region', { name: 'Patterns' })
    .getByRole('button', { name: `Pattern ${word}` })
    .first()
    .click()
  await page.getByRole('dialog').getByRole('combobox').first().selectOption('Hive seasons')
  await expect(page.getByLabel('What stands for Honey yield')).toHaveValue('honey_kg')
  await page.getByRole('button', { name: 'Open the chart' }).click()
  await expect(page).toHaveURL(new RegExp(`/dataset/${await hiveSeasons(page)}/chart`))
})
