import type { Locator } from '@playwright/test'
import { add, card, chart, choose, expect, hoverFor, say, sentence, test, watch } from './pages'

// Not demo data: odd names, missing values in three forms, semicolons, decimal
// commas and a name that is a word of the grammar.
const FILE = `Stand;Honig (kg);größe in ha;against;Straße
"Am ""Hof""";12,5;1.250,75;ja;<b>Nord</b>
Bach;NA;300;nein;Süd
Busch;8,25;42,5;ja;Süd
Feld;–;17;nein;Süd
Garten;31;7,25;ja;<b>Nord</b>
Heide;22,75;95;nein;Süd
Kamp;18;410;ja;<b>Nord</b>
Linde;27,5;12;nein;<b>Nord</b>
Moor;;88;ja;Süd
Weide;15,5;160;nein;<b>Nord</b>
Wiese;24;28;ja;Süd
`

test('a file becomes a sentence, a chart, a shared page, and is taken back', async ({ page, browser, baseURL }) => {
  await page.goto('/')
  await page.getByLabel('File with a table').setInputFiles({ name: 'bienen.csv', mimeType: 'text/csv', buffer: Buffer.from(FILE) })
  const preview = page.getByRole('dialog')
  await expect(preview.getByText('11 rows, 5 columns')).toBeVisible()
  await expect(preview.getByText('3 missing')).toBeVisible()
  await preview.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('11 rows, 5 columns')).toBeVisible()
  await expect(page.getByRole('cell', { name: '1,250.75' })).toBeVisible()

  // By pressing words.
  await page.getByRole('link', { name: 'Chart' }).click()
  await expect(sentence(page)).toContainText('Plot größe in ha on a log scale against honig.')
  const listed = page.waitForResponse((r) => r.url().includes('/api/found/charts?dataset='))
  await say(page, 'y', 'honig')
  await page.locator('[data-slot="x"]').click()
  await listed // the first change made a chart, which is among the dataset's now: what is open stays so
  await choose(page, 'größe')
  await add(page, 'log x')
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByRole('option', { name: 'colour by …' }).click()
  await choose(page, 'straße')
  await add(page, 'straight line')
  await say(page, 'fit-for:0', 'each straße and overall')
  await expect(sentence(page)).toContainText(
    'Plot honig against größe in ha on a log scale, coloured by straße. Fit a straight line to each straße and overall with 95 % confidence bands.',
  )
  await expect(page.getByText('8 of 11 rows drawn').first()).toBeVisible()
  await page.getByRole('button', { name: '3 left out' }).click()
  await expect(page.getByText('missing honig')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('region', { name: 'Trail' }).getByRole('listitem')).toHaveCount(7)
  await expect(page.getByRole('complementary', { name: 'Reading' })).toContainText(
    'Overall, honig shows no clear rise or fall with größe in ha',
  )
  const pressed = await page.locator('table').last().innerText()

  // By typing, on a new chart, to the same numbers.
  await page.getByRole('button', { name: 'New chart' }).click()
  await expect(page.getByText('The first change you make begins the trail')).toBeVisible()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await page.keyboard.press('/')
  const typed = page.getByLabel('The sentence, typed')
  await typed.fill('plot "Honig (kg)" against "größe in ha"\nlog x\ncolour by Straße\nfit line for each Straße and overall with band 95%\n')
  await typed.press('Control+Enter')
  await expect(typed).toBeHidden()
  await expect(sentence(page)).toContainText('to each straße and overall with')
  expect(await page.locator('table').last().innerText()).toBe(pressed)

  await hoverFor(page, 'Am "Hof"')
  await expect(card(page)).toContainText('12.50 kg')
  await expect(card(page)).toContainText('1,250.75')
  await expect(card(page)).toContainText('<b>Nord</b>')

  const box = (await chart(page).boundingBox())!
  await page.mouse.move(box.x + 200, box.y + 60)
  await page.mouse.down()
  await page.mouse.move(box.x + 420, box.y + 260, { steps: 4 })
  await page.mouse.up()
  await expect(page.locator('.lark-tools.zoomed')).toBeVisible()
  await page.mouse.dblclick(box.x + 300, box.y + 150)
  await expect(page.locator('.lark-tools.zoomed')).toBeHidden()

  await page.getByRole('button', { name: 'Share…' }).click()
  await page.getByLabel('Title', { exact: true }).fill('Less forage, more honey <i>here</i>')
  const out = page.getByRole('group', { name: 'What goes out' })
  await expect(out).toContainText('8 rows go out; the other 3 of the dataset stay here.')
  await expect(out.getByRole('checkbox')).toHaveCount(6) // four columns, the rows as a file, and how it was made
  await out.getByLabel('Stand').check() // the column that heads the card goes out when somebody wants it
  await page.getByRole('button', { name: 'Share', exact: true }).click()
  const link = await page.getByLabel('Link to what is shared').inputValue()

  const reader = await browser.newContext({ viewport: { width: 1280, height: 800 }, storageState: { cookies: [], origins: [] } })
  const shared = await reader.newPage()
  const faults = watch(shared)
  await shared.goto(link)
  await expect(shared.getByRole('heading', { level: 1 })).toHaveText('Less forage, more honey <i>here</i>')
  await hoverFor(shared, 'Am "Hof"')
  await expect(card(shared)).toContainText('12.50 kg')
  await shared.getByRole('button', { name: 'Süd' }).click()
  await expect(shared.getByRole('button', { name: 'Süd' })).toHaveAttribute('aria-pressed', 'true')
  await shared.getByRole('button', { name: 'Table of values' }).click()
  await expect(shared.getByRole('cell', { name: 'Am "Hof"' })).toBeVisible()
  await expect(shared.getByRole('row')).toHaveCount(9)
  await shared.getByRole('button', { name: 'How this was made' }).click()
  await expect(shared.locator('pre').first()).toContainText('plot "Honig (kg)" against "größe in ha"')
  expect((await shared.request.get(`${baseURL}/api/datasets`)).status()).toBe(401)

  await page.getByRole('link', { name: 'All shared charts' }).click()
  await page
    .getByRole('row', { name: /Less forage/ })
    .getByRole('button', { name: 'Withdraw' })
    .click()
  await expect(page.getByRole('row', { name: /Less forage/ })).toContainText('withdrawn on')
  const gone = await shared.goto(link)
  expect(gone!.status()).toBe(410)
  await expect(shared.getByRole('heading')).toHaveText('This chart was withdrawn')
  expect(faults).toEqual([])
  await reader.close()
})

test('from a file to a shared chart by pressing alone, in at most 24 presses', async ({ page }) => {
  page.setDefaultTimeout(8000)
  let presses = 0
  const press = async (what: Locator) => {
    presses++
    await what.click()
  }
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
  const option = (name: string | RegExp) => page.getByRole('option', { name }).first()
  const rows = Array.from({ length: 120 }, (_, i) => {
    const forage = Math.exp((i % 40) / 4 + 1)
    const district = ['Tarn', 'Brindle', 'Low Fen'][i % 3]
    return [`A-${i + 1}`, district, forage.toFixed(1), (12 + 3 * Math.log(forage) + ((i * 7) % 11) / 2 - 6 * (i % 3)).toFixed(1)].join(',')
  })
  await page.goto('/')
  presses++
  await page.getByLabel('File with a table').setInputFiles({
    name: 'pressed.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['apiary,district,forage_ha,honey_kg', ...rows].join('\n')),
  })
  await press(page.getByRole('dialog').getByRole('button', { name: 'Keep' }))
  await press(page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Chart' }))
  await expect(sentence(page)).toContainText('Plot honey against forage on a log scale')
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  // its colour, and the groups, by the key
  await press(button('+ add'))
  await press(option(/^colour by …/))
  await press(option(/district/))
  await expect(sentence(page)).toContainText('coloured by district')
  // a fit for each group, dashed, with what it says pressed where it is drawn
  await press(button('+ add'))
  await press(option(/straight line/))
  await press(page.locator('[data-slot="fit-for:0"]'))
  await press(option(/each district and overall/))
  await press(page.locator('[data-slot="fit-kind:0"]'))
  await press(option(/dashed/))
  await expect(sentence(page)).toContainText('Fit a straight line to each district and overall')
  // the axis, turned round, with ticks of its own form
  const box = (await chart(page).boundingBox())!
  presses++
  await page.mouse.click(box.x + box.width / 2, box.y + box.height - 12)
  await press(page.getByLabel('turned round'))
  await press(button('Keep'))
  await expect(sentence(page)).toContainText('Turn x round')
  // labels, the place of the key, the look
  await press(button('+ add'))
  await press(option(/^label the highest/))
  await press(button('+ add'))
  await press(option(/^key …/))
  await press(option(/^right/))
  await expect(sentence(page)).toContainText('Key right')
  await press(button('Share…'))
  await press(button('Share'))
  await expect(page.getByLabel('Link to what is shared')).toHaveValue(/\/s\//)
  expect(presses).toBeLessThanOrEqual(24)
})
