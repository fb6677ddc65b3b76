import type { Locator } from '@playwright/test'
import { add, chart, choose, expect, hoverFor, reading, say, sentence, state, test, type } from './pages'

test('numbers are coloured between limits, in logs and about a middle, by pressing', async ({ page }) => {
  await state(page, 'plot honey_kg against altitude_m\ncolour by forage_ha')
  await add(page, 'diverging')
  await choose(page, 'log scale')
  await say(page, 'gradient', 'middle 96')
  await expect(sentence(page)).toContainText(/coloured by forage area on a log scale, from [\d.]+ to [\d,.]+\./)
  await expect(page.getByLabel('Key: Forage area')).toContainText('≥')
  await say(page, 'gradient', 'midpoint median')
  await say(page, 'gradient', 'reverse')
  await expect(sentence(page)).toContainText(/two ways about [\d.]+, darker for less/)
  await page.getByRole('button', { name: 'Type it' }).click()
  const typed = page.getByLabel('The sentence, typed')
  await expect(typed).toContainText(/colour by forage_ha log scale from .* about .* darker for less/)
  await typed.fill('plot honey_kg against altitude_m\ncolour by forage_ha log scale from 0 to 9')
  await typed.press('Control+Enter')
  await expect(page.getByText('a log scale of colours begins above zero')).toBeVisible()
})

test('look, grid, place of keys and paper are said, by pressing and by typing', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by district')
  await add(page, 'legend')
  await choose(page, 'right')
  await expect(sentence(page)).toContainText('Key right.')
  const key = page.getByLabel('Key: District')
  const place = async (of: Locator) => (await of.boundingBox()) ?? { x: NaN, y: NaN, width: NaN, height: NaN }
  await expect
    .poll(async () => {
      const at = await place(chart(page))
      return (await place(key)).x > at.x + at.width - 2
    })
    .toBe(true)
  await say(page, 'key', 'off')
  await expect(key).toHaveCount(0)
  await say(page, 'key', 'top')
  await expect.poll(async () => (await place(key)).y < (await place(chart(page))).y).toBe(true)
  await add(page, 'monochrome')
  await choose(page, 'ink')
  await expect(key.locator('.key-entry').first().locator('canvas')).toBeVisible()
  await add(page, 'aspect ratio')
  await choose(page, 'square')
  await expect(sentence(page)).toContainText('Paper 640 by 640')
  await expect
    .poll(async () => {
      const at = await place(chart(page))
      return Math.round((20 * at.width) / at.height)
    })
    .toBe(20)
  await type(page, 'plot honey_kg against forage_ha\nlook ruled\ntext large\ngrid halves\npaper 1200 by 400')
  await expect(sentence(page)).toContainText('Its look is ruled. Text large. Grid halves. Paper 1200 by 400.')
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot honey_kg against forage_ha\npaper 12 by 400')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('a paper is from 160 to 8000 pixels wide and high').first()).toBeVisible()
})

test('the lines of groups have patterns on request', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district')
  await add(page, 'linetype')
  await expect(sentence(page)).toContainText('coloured by district with patterns.')
  await expect(page.locator('.key-entry').filter({ hasText: 'Brindle' }).locator('canvas')).toHaveCount(2)
  await say(page, 'patterns', 'alone')
  await expect(page.locator('.key-entry').filter({ hasText: 'Brindle' }).locator('canvas')).toHaveCount(1)
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot honey_kg against forage_ha\ncolour by district with patterns')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('no lines of groups are drawn that could have patterns').first()).toBeVisible()
})

test('a column of hundreds of groups colours by its most frequent, in one press', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\ncolour by district')
  await say(page, 'colour', 'apiary')
  await expect(sentence(page)).toContainText('coloured by apiary (its 9 most frequent)')
  const rest = page.getByRole('button', { name: /\d+ others/ })
  await rest.click()
  await expect(rest).toHaveAttribute('aria-pressed', 'true')
  await expect(page.getByRole('button', { name: 'Only these' })).toHaveCount(0) // they are no value that a condition could name
  await say(page, 'colour-top', '3 most')
  await expect(sentence(page)).toContainText('(its 3 most frequent)')
})

test('several groups are looked at alone, left out, and a value keeps its own colour in all charts', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by district')
  const entry = (name: string) => page.locator('.key-entry').filter({ hasText: name })
  await entry('Tarn').click()
  await entry('Brindle').click({ modifiers: ['Shift'] })
  await expect(entry('Tarn')).toHaveAttribute('aria-pressed', 'true')
  await expect(entry('Brindle')).toHaveAttribute('aria-pressed', 'true')
  await entry('Brindle').click()
  await expect(entry('Brindle')).toHaveAttribute('aria-pressed', 'false')
  await page.getByLabel('Colour of Tarn').fill('#004488')
  await page.getByLabel('Colour of Tarn').blur()
  const swatch = () =>
    entry('Tarn')
      .locator('canvas')
      .evaluate((c: HTMLCanvasElement) =>
        [
          ...c
            .getContext('2d')!
            .getImageData(c.width / 2, c.height / 2, 1, 1)
            .data.slice(0, 3),
        ].join(' '),
      )
  await expect.poll(swatch).toBe('0 68 136')
  await page.getByRole('button', { name: 'Without these' }).click()
  await expect(sentence(page)).toContainText('Of rows where not')
  await expect(entry('Tarn')).toHaveCount(0)
  await state(page, 'plot mean(honey_kg) against season as groups\nas bars\ncolour by district')
  await expect.poll(swatch).toBe('0 68 136')
  await page.getByRole('link', { name: 'Data' }).click()
  await page
    .getByRole('tab', { name: 'Meanings' })
    .or(page.getByRole('button', { name: 'Meanings' }))
    .first()
    .click()
  await page.getByRole('button', { name: 'Name the values of district' }).click()
  const colour = page.getByLabel('Colour of Tarn in district', { exact: true })
  await expect(colour).toHaveValue('#004488')
  await colour.fill('#ffffee')
  await colour.blur()
  await expect(page.getByText('Tarn is hard to see on white paper')).toBeVisible()
  await page.getByRole('button', { name: 'Colour of Tarn in district: as usual' }).click()
  await expect(page.getByText('Tarn is hard to see on white paper')).toHaveCount(0)
})

test('a key stands inside where nothing is drawn, and its entries are dragged into an order', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by district')
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByLabel('Find what to add').fill('legend corner')
  await page.getByLabel('Find what to add').press('Enter')
  await choose(page, 'inside')
  await expect(sentence(page)).toContainText('Key inside.')
  const key = page.getByRole('group', { name: 'Key: District' })
  const paper = (await chart(page).boundingBox())!
  const at = (await key.boundingBox())!
  expect(at.x > paper.x && at.x + at.width < paper.x + paper.width && at.y > paper.y && at.y + at.height < paper.y + paper.height).toBe(
    true,
  )
  const names = () => key.locator('.key-entry').allTextContents()
  expect(await names()).toEqual(['Ashcombe', 'Brindle', 'Low Fen', 'Scarhead', 'Tarn'])
  const tarn = key.getByRole('button', { name: 'Tarn' })
  const first = (await key.getByRole('button', { name: 'Ashcombe' }).boundingBox())!
  const from = (await tarn.boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(first.x + 20, first.y + 30, { steps: 4 })
  await page.mouse.move(first.x + 20, first.y + 6, { steps: 4 })
  await page.mouse.up()
  await expect.poll(names).toEqual(['Tarn', 'Ashcombe', 'Brindle', 'Low Fen', 'Scarhead'])
  await expect(tarn).toHaveAttribute('aria-pressed', 'false') // the press was a drag
  await key.getByRole('button', { name: 'Brindle' }).press('Alt+ArrowUp')
  await expect.poll(names).toEqual(['Tarn', 'Brindle', 'Ashcombe', 'Low Fen', 'Scarhead'])
  await expect(sentence(page)).toContainText('Key in the order “Tarn”, “Brindle”')
  await type(page, 'plot honey_kg against forage_ha\ncolour by district\npanels by season\nkey inside')
  await expect(reading(page)).toContainText('The key stands below the chart')
})

test('marks have outlines, letters and groups in front, and colours in pairs', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by keeper_school')
  await add(page, 'rim')
  await expect(sentence(page)).toContainText('outlined in #16302e')
  await say(page, 'outline', 'without')
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByLabel('Find what to add').fill('bring forward')
  await page.getByLabel('Find what to add').press('Enter')
  await choose(page, 'Hill school')
  await expect(sentence(page)).toContainText('In front “Hill school”')
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByLabel('Find what to add').fill('paired with')
  await page.getByLabel('Find what to add').press('Enter')
  await choose(page, 'fed')
  await expect(sentence(page)).toContainText('coloured by keeper school paired with fed')
  await expect(page.getByRole('group', { name: /^Key: Keeper school/ }).locator('.key-entry')).toHaveCount(6)
  await type(page, "plot honey_kg against forage_ha\ncolour by keeper_school\none shape 'A'")
  await expect(sentence(page)).toContainText('each the letter A')
  await say(page, 'one-shape', '×')
  await expect(sentence(page)).toContainText('each the sign “×”')
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill("plot honey_kg against forage_ha\ncolour by keeper_school\nin front 'Hil school'")
  await expect(page.getByText("did you mean 'Hill school'?")).toBeVisible()
})

test('a function is plotted without rows', async ({ page }) => {
  await state(page, 'plot y = 1 / x for x from -3 to 3 at 13 values')
  await expect(sentence(page)).toContainText('Plot y = 1 / x for x from -3 to 3 at 13 values as line.')
  await expect(reading(page)).toContainText('At 1 of them it has no value')
  await say(page, 'function', 'logistic')
  await expect(sentence(page)).toContainText('y = 1 / (1 + exp(-x))')
  await say(page, 'function-ends', '100')
  await expect(reading(page)).toContainText('from 0 to 100')
  await add(page, 'columns of the table')
  await expect(sentence(page)).toContainText(/Plot (?!y =).* against/)
  await add(page, 'formula equation function')
  await expect(sentence(page)).toContainText('Plot y = x ^ 2 for x from -3 to 3 as line.')
})

test('a chart is drawn by hand, and a space keeps its looks for new charts', async ({ page }) => {
  await state(page, "plot honey_kg against forage_ha\nlog x\ncolour by district\npalette '#b4531a', '#b5541b'\nlook sketch")
  await expect(reading(page)).toContainText('some groups look the same')
  await page.locator('[data-slot="look"]').click()
  const looks = page.getByRole('region', { name: 'Looks of the space' })
  await looks.getByRole('button', { name: 'begin new charts as this one looks' }).click()
  await expect(looks).toContainText('look sketch')
  await expect(looks).toContainText('hard to tell apart')
  await page.reload()
  await page.goto(page.url().replace(/chart.*/, `chart?new=${Math.random()}`))
  await expect(sentence(page)).toContainText('Its look is sketch')
  await page.locator('[data-slot="look"]').click()
  await looks.getByRole('button', { name: 'back to the usual looks for new charts' }).click()
  await expect(looks).toContainText('the usual looks')
  await looks.getByRole('button', { name: 'use the space’s looks here' }).click()
  await expect(sentence(page)).not.toContainText('sketch')
})

test('columns of another dataset stand over the same axes', async ({ page }) => {
  const name = `Targets ${Math.random().toString(36).slice(2, 8)}`
  const made = await page.request.post('/api/datasets', {
    data: { name, typed: 'make 6 rows\nwork out ha = power(5, row_number() - 1)\nwork out target_kg = 34 - 2 * row_number()' },
  })
  expect(made.ok()).toBe(true)
  await state(
    page,
    `plot honey_kg against forage_ha\nlog x\ncolour by district\nalso plot target_kg against ha of '${name}' named 'target'`,
  )
  await expect(sentence(page)).toContainText(`Also plot target_kg against ha of “${name}” as line, “target”`)
  await expect(page.getByRole('group', { name: 'Key: Also' })).toContainText('target')
  await hoverFor(page, 'target')
  await say(page, 'also:0', 'as dots')
  await expect(sentence(page)).toContainText('as dots, “target”')
  await page.locator('[data-slot="also:0"]').click()
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await expect(sentence(page)).not.toContainText('Also plot')
  await add(page, `another dataset ${name}`)
  await expect(sentence(page)).toContainText(`of “${name}” as line`)
  await page.locator('[data-slot="also:0"]').click()
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await add(page, 'overlay second series')
  await expect(sentence(page)).toContainText(/Also plot .* against forage area as line/)
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill("plot honey_kg against forage_ha\nalso plot target_kg against ha of 'Tragets'")
  await expect(page.getByText('no dataset is called Tragets')).toBeVisible()
})

test('lines that are laid over marks, titles and words look as is said', async ({ page }) => {
  await state(
    page,
    "plot honey_kg against forage_ha\nlog x\nfit line overall in '#b4531a' dashed\nline at mean(y) width 3\nx untitled\ntitle 'More forage' centred\nsubtitle 'Five districts'\nweight bold",
  )
  await expect(sentence(page)).toContainText('Fit a straight line to all rows, in #b4531a, dashed.')
  await say(page, 'fit-line:0', 'dotted')
  await expect(sentence(page)).toContainText('in #b4531a, dotted')
  await say(page, 'reference-line:0', 'as usual')
  await expect(sentence(page)).not.toContainText('3 px wide')
  await say(page, 'weight', 'light')
  await expect(sentence(page)).toContainText('Words light')
  await add(page, 'subtitle')
  await page.getByLabel('Subtitle').fill('Two lines')
  await page.getByLabel('over the middle of the chart').uncheck()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByLabel('Subtitle', { exact: true })).toBeHidden()
  await page.keyboard.press('/')
  await expect(page.getByLabel('The sentence, typed')).toHaveText(/title 'More forage'subtitle 'Two lines'/)
})
