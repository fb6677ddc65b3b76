import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { add, card, chart, choose, expect, hoverFor, reading, say, sentence, state, test, type } from './pages'

test('what columns suggest is said, and turned in one press', async ({ page }) => {
  await state(page, 'plot keeper_school against district')
  await expect(sentence(page)).toContainText('Plot keeper school against district as counts.')
  await expect(reading(page)).toContainText('Cramér’s V')
  await say(page, 'y', 'honey_kg')
  await expect(sentence(page)).toContainText('Plot honey yield against district as boxes.')
  await say(page, 'marks', 'dots')
  await expect(sentence(page)).toContainText('as dots')
  await expect(chart(page)).toHaveAttribute('data-painted', '1150')
  await say(page, 'y', 'mean of honey')
  await expect(sentence(page)).toContainText('Plot the mean of honey yield against district as bars.')
  await add(page, 'order by mean')
  await expect(sentence(page)).toContainText('ordered by mean of honey yield')
  await expect(reading(page)).toContainText('The mean of honey yield is highest for Low Fen')
})

test('every mark can be pressed, typed and pointed at', async ({ page }) => {
  await state(page, 'plot spread of honey_kg')
  await say(page, 'marks', 'curve')
  await expect(sentence(page)).toContainText('Plot the spread of honey yield as curve.')
  await chart(page).hover({ position: { x: 420, y: 300 } })
  await page.keyboard.press('/')
  await expect(page.getByLabel('The sentence, typed')).toContainText('as curve')
  await page.keyboard.press('Escape')
  for (const [typed, said, tells] of [
    ['plot honey_kg against district\nas strips', 'as strips', 'The mean of honey yield is highest in Low Fen'],
    ['plot sum(honey_kg) against season\nas area\ncolour by keeper_school', 'as area', 'rows'],
    ['plot mean(honey_kg) against season\nas steps', 'as steps', 'rows'],
    ['plot mean(honey_kg) against district\nas stems', 'as stems', 'highest for Low Fen'],
    ['plot honey_kg against hive_type\nas boxes and strips', 'as boxes and strips', 'The means of honey yield do not clearly differ'],
  ]) {
    await type(page, typed)
    await expect(sentence(page)).toContainText(said)
    await expect(reading(page)).toContainText(tells)
  }
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot honey_kg against forage_ha\nas strips')
  await expect(page.getByText('strips need groups along one axis').first()).toBeVisible()
})

test('keys turn with the theme, as the marks do', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\ncolour by district')
  const middle = () =>
    page
      .locator('.key-entry canvas')
      .first()
      .evaluate((swatch: HTMLCanvasElement) => {
        const half = swatch.width / 2
        return [...swatch.getContext('2d')!.getImageData(half, half, 1, 1).data].join(' ')
      })
  const light = await middle()
  await page.emulateMedia({ colorScheme: 'dark' })
  await expect.poll(middle).not.toBe(light)
  const turned = await middle()
  await page.reload() // begun in the dark
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await expect.poll(middle).toBe(turned)
  await page.emulateMedia({ colorScheme: 'light' })
  await expect.poll(middle).toBe(light)
  // a choice does not follow the system, and is kept
  const paper = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor)
  const bright = await paper()
  await page.getByRole('button', { name: /: menu$/ }).click()
  await page.getByRole('menuitemradio', { name: 'Dark', exact: true }).click()
  await expect.poll(middle).toBe(turned)
  expect(await paper()).not.toBe(bright)
  await page.reload()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await expect.poll(middle).toBe(turned)
  await page.getByRole('button', { name: /: menu$/ }).click()
  await page.getByRole('menuitemradio', { name: 'Light or dark as the system' }).click()
  await expect.poll(middle).toBe(light)
})

test('a form that is said of a column holds in every chart of it', async ({ page }) => {
  const meanings = async () => {
    await page.getByRole('link', { name: 'Data', exact: true }).click()
    await page.getByRole('tab', { name: 'Meanings' }).click()
  }
  await state(page, 'plot price against forage_ha')
  await meanings()
  await page.getByLabel('How price is written').selectOption('currency')
  await page.getByLabel('currency of price: its sign').fill('£')
  await page.getByLabel('currency of price: its sign').press('Enter')
  const kept = page.waitForResponse((answer) => answer.request().method() !== 'GET' && (answer.request().postData() ?? '').includes('120k'))
  await page.getByLabel('How altitude_m is written').selectOption('120k')
  await kept // a reload gives up what is on its way
  await page.reload()
  await page.getByRole('tab', { name: 'Meanings' }).click()
  await expect(page.getByLabel('How price is written')).toHaveValue('currency')
  await expect(page.getByLabel('currency of price: its sign')).toHaveValue('£')
  await expect(page.getByLabel('How altitude_m is written')).toHaveValue('120k')
  await state(page, 'plot spread of price')
  await expect(reading(page)).toContainText('£')
  await meanings()
  await page.getByLabel('How price is written').selectOption('')
  await page.getByLabel('How altitude_m is written').selectOption('')
  await expect(page.getByLabel('How price is written')).toHaveValue('')
})

test('a spread of one column, several columns on one axis, and lines', async ({ page }) => {
  await state(page, 'plot spread of honey_kg\ncolour by district')
  await expect(sentence(page)).toContainText('Plot the spread of honey yield as histogram, coloured by district.')
  await expect(reading(page)).toContainText('the median is')
  await type(page, 'plot honey_kg, mites_per_100 against frames\nas dots and line')
  await expect(sentence(page)).toContainText('Plot honey yield and mite count against brood frames as dots and line.')
  await expect(page.getByRole('group', { name: 'Key: Column' }).locator('.key-entry')).toHaveCount(2)
  await type(page, 'plot honey_kg, mites_per_100 against frames\ncolour by district').catch(() => undefined)
  await expect(page.getByText('colour says which is which').first()).toBeVisible()
})

test('panels share their axes, or have their own, and one place is lit in all of them', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall')
  await add(page, 'panels by …')
  await choose(page, 'season')
  await expect(sentence(page)).toContainText('in panels by season')
  await expect(reading(page).getByRole('row')).toHaveCount(6)
  await add(page, 'each with own y')
  await expect(sentence(page)).toContainText('each with its own y')
  await say(page, 'panels-own', 'shared')
  const box = (await chart(page).boundingBox())!
  await page.mouse.move(box.x + box.width * 0.2, box.y + box.height * 0.4)
  const lit = () =>
    page.evaluate(() => {
      const canvas = [...document.querySelectorAll<HTMLCanvasElement>('.lark-chart canvas')].at(-1)!
      const { data, width } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
      const columns = new Set<number>()
      for (let i = 3; i < data.length; i += 4) if (data[i] > 100) columns.add(Math.floor((((i >> 2) % width) / width) * 3))
      return columns.size
    })
  await expect.poll(lit).toBe(3)
})

test('rows are taken by a condition: typed, in a form, and from a key', async ({ page }) => {
  await state(page, 'of rows where frames >= 10\nplot honey_kg against forage_ha\ncolour by district')
  await expect(sentence(page)).toContainText('Of rows where brood frames is at least 10, plot honey yield')
  await expect(page.getByText(/of 1,180 rows drawn/).first()).toBeVisible()
  await page.locator('.key-entry').filter({ hasText: 'Brindle' }).click()
  await page.getByRole('button', { name: 'Only these' }).click()
  await expect(sentence(page)).toContainText('and district is Brindle')
  await page.locator('[data-slot=where]').click()
  const condition = page.getByLabel('Condition')
  await condition.fill('frames >')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('dialog').getByText('expected')).toBeVisible()
  await expect(condition).toHaveValue('frames >')
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await expect(sentence(page)).toContainText('Plot honey yield against forage area')
})

test('reference lines, near-linear scales and columns read otherwise', async ({ page }) => {
  await state(page, "plot honey_kg against forage_ha\nline at mean(y)\nband y from 20 to 25 named 'target'")
  await expect(sentence(page)).toContainText('Draw a line at the mean of y. Show a band along y from 20 to 25, “target”.')
  await say(page, 'reference:0', 'median of y')
  await expect(sentence(page)).toContainText('Draw a line at the median of y.')
  await add(page, 'log x')
  await say(page, 'scale-x', 'base 2')
  await expect(sentence(page)).toContainText('log scale of base 2')
  await say(page, 'x', 'season as groups')
  await expect(sentence(page)).toContainText('against season as groups')
  await page.locator('[data-slot="as-x"]').click()
  await expect(page.getByRole('combobox')).toBeVisible()
})

/** How many pixels of the chart have ink, and how many are apart from a picture of it that the server drew. */
const besides = (page: Page, png: string) =>
  page.evaluate(async (png) => {
    const canvas = document.querySelector<HTMLCanvasElement>('.lark-chart canvas')!
    const [width, height] = [canvas.width, canvas.height]
    const image = await createImageBitmap(new Blob([Uint8Array.from(atob(png), (c) => c.charCodeAt(0))], { type: 'image/png' }))
    const other = new OffscreenCanvas(width, height).getContext('2d')!
    other.drawImage(image, 0, 0, width, height)
    const a = canvas.getContext('2d')!.getImageData(0, 0, width, height).data
    const b = other.getImageData(0, 0, width, height).data
    // A pixel is apart when nothing within one pixel of it in the other picture is like it.
    const far = (p: Uint8ClampedArray, q: Uint8ClampedArray, x: number, y: number) => {
      const at = 4 * (y * width + x)
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const k = at + 4 * (dy * width + dx)
          if (Math.abs(p[at] - q[k]) + Math.abs(p[at + 1] - q[k + 1]) + Math.abs(p[at + 2] - q[k + 2]) < 110) return false
        }
      return true
    }
    let apart = 0
    let marked = 0
    for (let y = 2; y < height - 2; y++)
      for (let x = 2; x < width - 2; x++) {
        if (a[4 * (y * width + x)] < 240) marked++
        if (far(a, b, x, y) || far(b, a, x, y)) apart++
      }
    return { apart, marked }
  }, png)

/** The chart as a PNG file, in base64. */
async function saved(page: Page): Promise<string> {
  await page.getByRole('button', { name: 'Save picture' }).click()
  await page.getByRole('button', { name: 'as on the screen' }).click()
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: /^PNG/ }).click()])
  expect(download.suggestedFilename()).toMatch(/\.png$/)
  return readFileSync(await download.path()).toString('base64')
}

test('a chart is saved as a picture, and what the server draws is what the browser paints', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 })
  for (const typed of [
    'plot honey_kg against forage_ha\nlog x\nfit line with band 95%\nkey off',
    'plot mean(honey_kg) against district',
    'plot honey_kg against keeper_school',
    'plot keeper_school against district',
    'plot honey_kg against forage_ha\nlog x\npanels by hive_type',
  ]) {
    await state(page, typed)
    await page.mouse.move(0, 0)
    await page.waitForTimeout(400)
    const { apart, marked } = await besides(page, await saved(page))
    expect(marked, typed).toBeGreaterThan(2000)
    expect(apart / marked, `${typed}: ${apart} of ${marked} pixels are apart`).toBeLessThan(0.02)
  }
})

test('a bar that is pressed can be taken alone, and the end of an axis is dragged', async ({ page }) => {
  await state(page, 'plot mean(honey_kg) against district')
  const box = (await chart(page).boundingBox())!
  await page.mouse.click(box.x + box.width * 0.2, box.y + box.height * 0.8)
  await page.getByRole('button', { name: 'Without Ashcombe' }).click()
  await expect(sentence(page)).toContainText('Of rows where not')
  await expect(page.getByText(/of 1,180 rows drawn/).first()).toBeVisible()
  await type(page, 'plot honey_kg against forage_ha\nlog x')
  await page.mouse.move(box.x + box.width - 22, box.y + box.height - 36)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height - 36, { steps: 5 })
  await page.mouse.up()
  await expect(sentence(page)).toContainText('Show x from')
  await expect(page.getByText(/outside the limits/).first()).toBeVisible()
})

test('where dots hide each other they are counted in hexagons, and parts of a whole are stacked', async ({ page }) => {
  const made = await page.request.post('/api/datasets', {
    data: {
      name: 'Crowded',
      typed:
        "make 30000 rows\nwork out x = normal(0, 1)\nwork out y = x + normal(0, 1)\nwork out g = case when x > 0 then 'up' else 'down' end\nwork out h = case when y > 0 then 'high' else 'low' end",
    },
  })
  await page.goto(`/dataset/${(await made.json()).id}/chart?new=1`)
  await expect(page.getByText('deeper where more dots lie')).toBeVisible()
  await page.getByRole('button', { name: 'plain', exact: true }).click()
  await expect(sentence(page)).toContainText('Overlap shaded off')
  await expect(page.getByText('deeper where more dots lie')).toBeHidden()
  await page.getByRole('button', { name: 'Count in hexagons' }).click()
  await expect(sentence(page)).toContainText('as hexagons')
  await expect(page.getByText('Rows (log scale)')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Count in hexagons' })).toBeHidden()
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot count() against g\nas share bars\ncolour by h')
  await page.keyboard.press('Control+Enter')
  await expect(sentence(page)).toContainText('as share bars')
  await expect(page.getByText('30,000 of 30,000 rows drawn').first()).toBeVisible()
})

test('a million dots follow the mouse, fingers and keys, are sharp when these rest, and are drawn alike by the server', async ({
  browser,
}) => {
  const context = await browser.newContext({
    hasTouch: true,
    storageState: JSON.parse(process.env.LARK_SESSION!),
    baseURL: process.env.LARK_ADDRESS,
    viewport: { width: 1280, height: 800 },
  })
  const page = await context.newPage()
  const made = await page.request.post('/api/datasets', {
    data: {
      name: 'A million made-up rows',
      typed:
        "make 1000000 rows\nwork out x = exp(normal(0, 1))\nwork out y = 3 * ln(x) + normal(0, 1)\nwork out g = case when uniform(0, 1) < 0.3 then 'a' else 'b' end",
    },
  })
  await page.goto(`/dataset/${(await made.json()).id}/chart?new=1`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await type(page, 'plot y against x\nlog x')
  await expect(chart(page)).toHaveAttribute('data-painted', '1000000')
  const sharp = () => expect(chart(page)).toHaveAttribute('data-sharp', 'yes')
  await page.mouse.move(0, 0)
  await sharp()
  const { apart, marked } = await besides(page, await saved(page))
  expect(marked).toBeGreaterThan(50_000)
  expect(apart / marked, `${apart} of ${marked} pixels are apart`).toBeLessThan(0.02)

  await type(page, 'plot y against x\nlog x\ncolour by g')
  const box = (await chart(page).boundingBox())!
  const middle = [box.x + box.width / 2, box.y + box.height / 2] as const
  await page.mouse.move(...middle)
  const seen = page.evaluate(
    () =>
      new Promise((done) =>
        new MutationObserver(
          (_, watch) => document.querySelector<HTMLElement>('.lark-chart')!.dataset.sharp === 'no' && (watch.disconnect(), done('moved')),
        ).observe(document.querySelector('.lark-chart')!, { attributes: true }),
      ),
  )
  for (let i = 0; i < 8; i++) await page.mouse.wheel(0, -60)
  expect(await seen).toBe('moved')
  await sharp()
  await page.mouse.move(middle[0] + 3, middle[1])
  await expect(page.locator('.lark-card')).toContainText('x')

  // The workers' picture is the one that is painted on the page.
  const pixels = () =>
    page.evaluate(() => {
      const canvas = document.querySelector<HTMLCanvasElement>('.lark-chart canvas')!
      return canvas
        .getContext('2d')!
        .getImageData(0, 0, canvas.width, canvas.height)
        .data.reduce((sum, v, i) => (sum * 31 + v * (i % 7)) % 1e9, 7)
    })
  const before = await pixels()
  await page.emulateMedia({ colorScheme: 'dark' })
  await expect.poll(pixels).not.toBe(before)
  await page.emulateMedia({ colorScheme: 'light' })
  await expect.poll(pixels).toBe(before)

  const session = await context.newCDPSession(page)
  const fingers = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...apart: number[]) =>
    session.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: apart.map((by, id) => ({ x: middle[0] + box.width * by, y: middle[1], id })),
    })
  await fingers('touchStart', -0.05, 0.05)
  for (let i = 1; i < 6; i++) await fingers('touchMove', -0.05 - i * 0.03, 0.05 + i * 0.03)
  await fingers('touchEnd')
  await expect.poll(pixels).not.toBe(before)
  await sharp()

  // Looked at so closely that whole steps would be seen, the places are asked for once more, exactly; the view stays.
  const closer = page.waitForRequest((r) => r.url().endsWith('/figure') && r.postData()!.includes('"fine":true'))
  await page.mouse.move(...middle)
  for (let i = 0; i < 30; i++) await page.mouse.wheel(0, -120)
  await (await closer).response()
  await expect(page.getByRole('button', { name: 'Keep this part as the limits of the axes' })).toBeVisible() // the view stays
  await sharp()

  await chart(page).locator('canvas[role=application]').focus()
  await page.keyboard.press('0')
  await expect(page.locator('.lark-tools.zoomed')).toHaveCount(0)
  await sharp()
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('.lark-spoken')).toContainText('x')
  await context.close()
})

test('rows are chosen by drawing around them and by pressing, left out and labelled, and a part is kept', async ({ page }) => {
  await state(page, 'plot honey_kg against altitude_m\ncolour by district')
  const box = (await chart(page).boundingBox())!
  const at = (x: number, y: number) => page.mouse.move(box.x + box.width * x, box.y + box.height * y, { steps: 4 })
  await at(0.5, 0.5)
  await page.getByRole('button', { name: 'Choose rows by drawing around them' }).click()
  await at(0.2, 0.2)
  await page.mouse.down()
  for (const [x, y] of [
    [0.6, 0.2],
    [0.6, 0.6],
    [0.2, 0.6],
  ])
    await at(x, y)
  await page.mouse.up()
  const chosen = page.getByRole('group', { name: /rows? chosen/ })
  const count = Number((await chosen.textContent())!.match(/\d+/)![0])
  expect(count).toBeGreaterThan(5)
  await chosen.getByRole('button', { name: 'The line with and without' }).click()
  const row = (name: string) =>
    page
      .getByRole('dialog')
      .getByRole('row', { name: new RegExp(`^${name}`) })
      .getByRole('cell')
      .last()
  await expect(row('these alone')).toHaveText(String(count))
  await expect
    .poll(
      async () =>
        Number((await row('all that').textContent())!.replace(',', '')) - Number((await row('without').textContent())!.replace(',', '')),
    )
    .toBe(count)
  await page.keyboard.press('Escape')
  await chosen.getByRole('button', { name: 'Without these' }).click()
  await expect(sentence(page)).toContainText(`without ${count} chosen rows`)
  await page.getByRole('button', { name: /left out/ }).click()
  await expect(page.getByRole('dialog')).toContainText('left out by hand')
  await page.keyboard.press('Escape')
  await say(page, 'chosen', 'only these')
  await expect(sentence(page)).toContainText(`only ${count} chosen rows`)
  await expect(page.getByText(`${count} of `).first()).toBeVisible()
  // A single dot by pressing it: the middle of those that are left.
  await type(page, 'plot honey_kg against altitude_m\nonly rows 3, 8, 20, 21')
  for (let x = 0.1; x < 0.98 && !(await chosen.isVisible()); x += 0.02)
    for (let y = 0.05; y < 0.85; y += 0.04) {
      await page.mouse.move(box.x + box.width * x, box.y + box.height * y)
      if (!(await page.locator('.lark-card').isVisible())) continue
      await page.mouse.down()
      await page.mouse.up()
      break
    }
  await chosen.getByRole('button', { name: 'Label these' }).click()
  await expect(sentence(page)).toContainText('Label 1 chosen row with apiary')
  await say(page, 'label', 'all rows')
  await expect(sentence(page)).toContainText('Label all rows with apiary')
  await at(0.5, 0.5)
  await page.mouse.wheel(0, -300)
  await page.getByRole('button', { name: 'Keep this part as the limits of the axes' }).click()
  await expect(sentence(page)).toContainText(/Show x from [\d,.]+ to/)
})

test('fingers move, zoom and tap', async ({ browser }) => {
  const touch = await browser.newContext({
    hasTouch: true,
    storageState: JSON.parse(process.env.LARK_SESSION!),
    baseURL: process.env.LARK_ADDRESS,
    viewport: { width: 1024, height: 768 },
  })
  const page = await touch.newPage()
  await state(page, 'plot honey_kg against forage_ha\nlog x')
  const box = (await chart(page).boundingBox())!
  const session = await touch.newCDPSession(page)
  const fingers = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: [number, number][]) =>
    session.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: points.map(([x, y], id) => ({ x: box.x + box.width * x, y: box.y + box.height * y, id })),
    })
  await fingers('touchStart', [0.45, 0.5], [0.55, 0.5])
  for (let i = 1; i < 8; i++) await fingers('touchMove', [0.45 - i * 0.03, 0.5], [0.55 + i * 0.03, 0.5])
  await fingers('touchEnd')
  await expect(page.locator('.lark-tools.zoomed')).toBeAttached()
  await expect(page.locator('.lark-overview')).toBeVisible()
  for (let y = 0.15; y < 0.8 && !(await page.locator('.lark-card').isVisible()); y += 0.05) {
    await fingers('touchStart', [0.5, y])
    await fingers('touchEnd')
  }
  await expect(page.locator('.lark-card')).toContainText('kg')
  await expect(page.getByRole('group', { name: /chosen/ })).toHaveCount(0) // a tap presses nothing
  await touch.close()
})

test('anything that can be said is found by words of the trade, and a misspelt word leads there', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha')
  await page.getByRole('button', { name: '+ add' }).click()
  const field = page.getByLabel('Find what to add')
  await field.fill('wiskers')
  await page.getByRole('button', { name: 'whiskers' }).click()
  await expect(field).toHaveValue('whiskers')
  await expect(page.getByRole('option', { name: /^interval/ })).toContainText('interval 95%')
  await field.fill('footnote')
  await page.getByRole('option', { name: /^note/ }).click()
  const typed = page.getByLabel('The sentence, typed')
  await expect(typed).toContainText("note 'Hives weighed at the autumn check'")
  await typed.press('Control+Enter')
  await expect(page.getByText('Hives weighed at the autumn check', { exact: true })).toBeVisible()
})

test('a column is stepped through by hand and by itself, with axes held', async ({ page }) => {
  await state(page, 'plot honey_kg against forage_ha\nlog x\nstep through season')
  await expect(sentence(page)).toContainText('step by step through season')
  const steps = page.getByRole('group', { name: 'Steps' })
  const slider = steps.getByLabel('Step', { exact: true })
  await expect(slider).toHaveAttribute('aria-valuetext', '2027')
  const painted = () => chart(page).getAttribute('data-painted')
  const first = await painted()
  await steps.getByRole('button', { name: 'Next step' }).click()
  await expect(slider).toHaveAttribute('aria-valuetext', '2028')
  await expect.poll(painted).not.toBe(first)
  await steps.getByRole('button', { name: 'play' }).click()
  await expect(slider).toHaveAttribute('aria-valuetext', '2031', { timeout: 10_000 })
  await expect(steps.getByRole('button', { name: 'play' })).toBeVisible() // it rests at the end
  await slider.fill('0')
  await expect(slider).toHaveAttribute('aria-valuetext', '2027')
  await add(page, 'following same row')
  await choose(page, 'apiary')
  await expect(sentence(page)).toContainText('step by step through season, following apiary')
  await steps.getByRole('button', { name: 'Next step' }).click()
  await expect(slider).toHaveAttribute('aria-valuetext', '2028')
  await say(page, 'step', 'hive type')
  await expect(slider).toHaveAttribute('aria-valuetext', /^(long|skep|stacked)$/)
})

test('cards that are pressed stay, move with their marks, and are closed', async ({ page }) => {
  await state(page, 'plot mean(honey_kg) against district\nas bars')
  const box = (await chart(page).boundingBox())!
  for (const x of [0.2, 0.5]) {
    await page.mouse.move(box.x + box.width * x, box.y + box.height * 0.6)
    await page.mouse.down()
    await page.mouse.up()
  }
  const pinned = page.getByRole('group', { name: /^Pinned: / })
  await expect(pinned).toHaveCount(2)
  await page.mouse.move(box.x + box.width * 0.9, box.y + 4)
  await expect(pinned.first()).toContainText('mean of honey yield')
  await expect(pinned.first()).toBeVisible()
  await pinned.first().getByRole('button', { name: 'close' }).click()
  await expect(pinned).toHaveCount(1)
  await say(page, 'marks', 'stems')
  await expect(pinned).toHaveCount(0)
})

test('cards show what is said, and dots that share a place are moved apart', async ({ page }) => {
  await state(page, 'plot honey_kg against season')
  await add(page, 'jitter')
  await expect(sentence(page)).toContainText('jittered along x')
  await add(page, 'tooltip')
  await expect(sentence(page)).toContainText('Cards show honey yield and season.')
  await say(page, 'card:1', 'keeper school')
  await expect(sentence(page)).toContainText('Cards show honey yield, season and keeper school.')
  await page.locator('[data-slot="card:1"]').click()
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await expect(sentence(page)).toContainText('Cards show honey yield and keeper school.')
  await hoverFor(page, 'Keeper school')
  await expect(card(page)).not.toContainText('Season')
})

test('chosen rows are lit in every chart of the dataset, under Data, and in other windows', async ({ page, context }) => {
  await state(page, 'plot honey_kg against altitude_m\nonly rows 1, 2, 3, 8, 20, 21')
  const other = await context.newPage()
  await state(other, 'plot mites_per_100 against frames')
  await page.bringToFront()
  const box = (await chart(page).boundingBox())!
  await page.getByRole('button', { name: 'Choose rows by drawing around them' }).click()
  const at = (x: number, y: number) => page.mouse.move(box.x + box.width * x, box.y + box.height * y, { steps: 4 })
  await at(0.12, 0.06)
  await page.mouse.down()
  for (const [x, y] of [
    [0.95, 0.06],
    [0.95, 0.84],
    [0.12, 0.84],
  ])
    await at(x, y)
  await page.mouse.up()
  const count = Number((await page.getByRole('group', { name: /rows chosen/ }).textContent())!.match(/\d+/)![0])
  expect(count).toBeGreaterThan(2)
  await expect(other.getByRole('group', { name: `${count} rows chosen` })).toBeVisible()
  await type(page, 'plot honey_kg against forage_ha\nlog x')
  await expect(page.getByRole('group', { name: `${count} rows chosen` })).toBeVisible()
  await page.getByRole('link', { name: 'Pairs' }).click()
  await expect.poll(async () => Number(await page.getByTestId('lit').getAttribute('data-lit'))).toBeGreaterThan(10 * count) // in many squares
  await page.getByRole('link', { name: 'Data' }).click()
  await expect(page.getByText(`${count} chosen on a chart`)).toBeVisible()
  await expect(page.locator('[role=row][aria-current]').first()).toBeVisible()
  await other.getByRole('button', { name: 'Let go' }).click()
  await expect(page.locator('[role=row][aria-current]')).toHaveCount(0)
})
