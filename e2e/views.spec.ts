import { add, chart, choose, expect, hiveSeasons, openForage, openOwn, sentence, state, test, watch } from './pages'

test('a column that could explain it splits the chart in one press', async ({ page }) => {
  await openOwn(page, 'Mites and honey')
  const panel = page.getByRole('region', { name: 'What else could explain it?' })
  await expect(panel.getByRole('listitem').first()).toBeVisible()
  await expect(panel).toContainText(
    '12 columns were tried, over 1,114 rows that have x and y; the chart draws 1,091, those that have all that it names; these are columns of this table: a cause outside it cannot be seen.',
  )
  await panel.getByRole('button', { name: /^district: / }).click()
  const evidence = page.getByRole('complementary', { name: 'Evidence' })
  await expect(evidence.getByRole('heading', { name: 'District' })).toBeVisible()
  await expect(evidence).toContainText('a cause outside it cannot be seen')
  await evidence.getByRole('button', { name: 'Split by it' }).click()
  await expect(sentence(page)).toContainText('coloured by district')
  await expect(sentence(page)).toContainText('to each district and overall')
  await expect(evidence.getByRole('button', { name: 'Split by it' })).toHaveAttribute('aria-pressed', 'true')
  await evidence.getByRole('button', { name: 'Reading' }).click()
  await expect(page.getByRole('complementary', { name: 'Reading' })).toContainText('Taken together')
})

test('from the demo the reversal is seen at once, and taken out in one press', async ({ page }) => {
  await openForage(page)
  const reading = page.getByRole('complementary', { name: 'Reading' })
  await expect(reading).toContainText('District reverses the trend.')
  await expect(reading.getByRole('listitem').first()).toContainText('reverses')
  await page.getByRole('button', { name: 'Take district out' }).click()
  await expect(sentence(page)).toContainText('with district taken out')
  await expect(reading).toContainText('With district taken out, honey yield rises')
  await expect(reading).not.toContainText('reverses the trend')
  await page.locator('[data-slot="take-out"]').click()
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await expect(sentence(page)).not.toContainText('taken out')
})

test('what stands behind a finding is told by group, walked from column to column, and taken out while dots slide', async ({ page }) => {
  await page.emulateMedia({ reducedMotion: 'no-preference' })
  await openForage(page)
  await page.getByTitle('What stands behind district', { exact: true }).click()
  const evidence = page.getByRole('complementary', { name: 'Evidence' })
  await expect(evidence).toContainText('so their line wins: inside them honey yield rises with forage area')
  await expect(evidence.getByRole('row', { name: /^within/ })).toContainText('+8.5')
  await expect(evidence.getByRole('row', { name: /Ashcombe/ })).toContainText('210')
  await expect(evidence).toContainText('a hidden cause would have to be')
  await evidence.getByRole('button', { name: 'The next one' }).click()
  await expect(evidence.getByRole('heading', { name: 'District' })).toBeHidden()
  await evidence.getByRole('button', { name: 'The one before' }).click()
  const painted = () => page.locator('.lark-chart').evaluate((host: HTMLElement) => Number(host.dataset.paints))
  const before = await painted()
  await evidence.getByRole('button', { name: 'Take it out' }).click()
  await expect(sentence(page)).toContainText('with district taken out')
  await expect.poll(painted).toBeGreaterThan(before + 2)
  await evidence.getByRole('button', { name: 'Taken out' }).click()
  await expect(sentence(page)).not.toContainText('taken out')
  await evidence.getByRole('button', { name: 'Panels by it' }).click()
  await expect(sentence(page)).toContainText('in panels by district')
})

test('whether a slope holds is looked at in many ways', async ({ page }) => {
  await openForage(page)
  await page.getByRole('button', { name: 'Does it hold? Look in other ways' }).click()
  const holds = page.getByRole('complementary', { name: 'Does it hold?' })
  await expect(holds).toContainText('Honey yield falls with forage area over all rows')
  await expect(holds).toContainText('It goes the other way: district held fixed')
  await expect(holds.getByRole('row', { name: /robust line/ })).toContainText('−7')
  await expect(holds.getByRole('row', { name: /influential/ })).toBeVisible()
  await holds.getByRole('button', { name: 'Reading' }).click()
  await expect(page.getByRole('complementary', { name: 'Reading' })).toBeVisible()
})

test('a shared chart of many dots asks for exact places where a reader looks closely, and letters stand for dots there', async ({
  page,
  browser,
}) => {
  const made = await (
    await page.request.post('/api/datasets', {
      data: { name: 'Many rows to share', typed: 'make 30000 rows\nwork out x = normal(0, 1)\nwork out y = normal(0, 1)' },
    })
  ).json()
  const document = { version: 2, y: { column: 'y' }, x: { column: 'x' }, fixed: { shape: 'W' } }
  const { key } = await (await page.request.post('/api/shares', { data: { version_id: made.version_id, document, title: 'Many' } })).json()
  const reader = await (await browser.newContext()).newPage()
  await reader.goto(`/s/${key}`)
  await expect(chart(reader)).toHaveAttribute('data-painted', '30000')
  const box = (await chart(reader).boundingBox())!
  await reader.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  const closer = reader.waitForResponse((r) => r.url().endsWith('/figure/exact'))
  for (let i = 0; i < 30; i++) await reader.mouse.wheel(0, -120)
  expect((await closer).status()).toBe(200)
  await expect(chart(reader)).toHaveAttribute('data-sharp', 'yes')
  await expect(reader.locator('.lark-tools.zoomed')).toBeAttached() // the view stays
  await reader.getByRole('button', { name: 'Show all' }).click()
  await expect(chart(reader)).toHaveAttribute('data-sharp', 'yes')
  await reader.context().close()
})

test('the note of a chart stands under it, here and where it is shared', async ({ page, browser }) => {
  await openForage(page)
  await expect(page.getByRole('button', { name: 'Type it' })).toBeVisible()
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill("plot honey_kg against forage_ha\nnote 'Weighed at the <b>autumn</b> check'")
  await page.getByLabel('The sentence, typed').press('Control+Enter')
  const note = page.getByText('Weighed at the <b>autumn</b> check', { exact: true })
  await expect(note).toBeVisible()
  await page.getByRole('button', { name: 'Share…' }).click()
  await page.getByRole('button', { name: 'Share', exact: true }).click()
  const link = await page.getByLabel('Link to what is shared').inputValue()
  const shared = await (await browser.newContext()).newPage()
  await shared.goto(link)
  await expect(shared.getByText('Weighed at the <b>autumn</b> check')).toHaveCount(1) // as the text above the chart, and not below it again
  await shared.context().close()
})

test('limits, titles and units of an axis are said in a form, and wrong ones are refused there', async ({ page }) => {
  await openOwn(page, 'Dearer sells less', /4000/)
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByRole('option', { name: /x from … to …/ }).click()
  await page.getByRole('textbox', { name: 'From' }).fill('0')
  await page.getByRole('textbox', { name: 'To' }).fill('20')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByRole('alert').first()).toContainText('A log scale has no place for zero or less')
  await page.getByRole('textbox', { name: 'From' }).fill('ten')
  await expect(page.getByText('a limit is a number such as 2,500')).toBeVisible()
  await page.getByRole('textbox', { name: 'From' }).fill('5')
  await page.getByRole('textbox', { name: 'Unit' }).fill('£ a piece')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(sentence(page)).toContainText('Show x from 5 to 20')
  await expect(page.getByText(/rows drawn · [\d,]+ outside the limits/)).toBeVisible()
  await expect(page.getByRole('complementary', { name: 'Reading' })).toContainText('Fits and figures still use them')
})

test('a smoother stands beside the line, and the card over a line tells its equation', async ({ page }) => {
  await openOwn(page, 'Dearer sells less', /4000/)
  await add(page, 'smoothing spline too')
  await expect(sentence(page)).toContainText('Fit a smoothing spline to all rows.')
  await page.locator('[data-slot="fit-kind:1"]').click()
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await expect(sentence(page)).not.toContainText('spline')
  const box = (await chart(page).boundingBox())!
  const facts: string[] = []
  for (let y = 30; y < box.height - 60 && facts.length === 0; y += 3) {
    await page.mouse.move(box.x + box.width / 2, box.y + y)
    const text = (await page.locator('.lark-card').textContent()) ?? ''
    if (text.includes('equation')) facts.push(text)
  }
  expect(facts[0]).toContain('quantity =')
  expect(facts[0]).toContain('× unit price^')
  expect(facts[0]).toContain('R squared')
})

test('the summary tells every column in numbers', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Hive seasons', exact: true }).click()
  await page.getByRole('tab', { name: 'Summary' }).click()
  const forage = page.getByRole('row', { name: /^number Forage area/ })
  await expect(forage).toContainText('strongly right-skewed: a log scale spreads it')
  await expect(page.getByRole('row', { name: /^category Hive type/ })).toContainText('stacked')
  await expect(page.getByRole('row', { name: /^number Honey yield/ })).toContainText('Altitude')
})

test('keys zoom the chart and the address of a chart opens it again', async ({ page }) => {
  await openOwn(page, 'A hive through two years', /7\d\d/)
  await expect(async () => {
    await chart(page).locator('canvas').last().focus() // laid out anew meanwhile, it is another one
    await page.keyboard.press('+')
    await expect(page.locator('.lark-tools.zoomed')).toBeAttached({ timeout: 1000 })
  }).toPass()
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('.lark-spoken')).toContainText('kg')
  await page.keyboard.press('0')
  await expect(page.locator('.lark-tools.zoomed')).not.toBeAttached()
  const address = page.url()
  await page.goto('/')
  await page.goto(address)
  await expect(sentence(page)).toContainText('Plot hive 1 against date, coloured by rain.')
})

test('nobody gets in without signing in, and wrong passwords are told so', async ({ browser, baseURL }) => {
  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } })
  const page = await context.newPage()
  const faults = watch(page)
  await page.goto(baseURL + '/dataset/3/chart')
  await page.getByLabel('Email address').fill('anwen@thornwick.example')
  await page.getByLabel('Password').fill('not the one')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('The address or the password is wrong')
  await expect(page.getByLabel('Email address')).toHaveValue('anwen@thornwick.example')
  const missing = await page.goto(baseURL + '/s/nobody-shared-this')
  expect(missing!.status()).toBe(404)
  await expect(page.getByRole('heading')).toHaveText('There is no chart here')
  await page.goto(baseURL + '/sign-in/made-up')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading')).toHaveText('This link does not sign you in')
  expect(faults).toEqual([])
  await context.close()
})

test('no view is wider than its window, and the chart stays in sight at four times the size', async ({ page }) => {
  const id = await hiveSeasons(page)
  const views = ['/', '/build', '/examples', ...['data', 'pairs', 'chart', 'shared'].map((view) => `/dataset/${id}/${view}`)]
  for (const [width, height] of [
    [1920, 800],
    [1280, 800],
    [1000, 500],
    [640, 400],
    [320, 640],
    [320, 256],
  ]) {
    await page.setViewportSize({ width, height })
    for (const path of views) {
      await page.goto(path)
      await page.getByRole('main').waitFor()
      if (path.endsWith('chart')) {
        await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
        expect((await chart(page).boundingBox())!.height, `${path} at ${width} by ${height}`).toBeGreaterThanOrEqual(240)
      }
      const over = () => page.evaluate(() => document.documentElement.scrollWidth - innerWidth)
      await expect.poll(over, `${path} at ${width} by ${height}`).toBeLessThanOrEqual(0)
    }
  }
})

test('an example becomes a chart of one’s own in one press', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Examples of what can be said' }).click()
  const pictures = page.locator('main img')
  await expect(pictures.first()).toBeVisible()
  expect(
    await pictures
      .evaluateAll((all) => Promise.all(all.map((img) => fetch((img as HTMLImageElement).src).then((r) => r.ok))))
      .then((loaded) => loaded.every(Boolean) && loaded.length > 20),
  ).toBe(true)
  await page.getByLabel('Find an example').fill('spread of honey')
  await expect(page.getByRole('status').filter({ hasText: '2 examples' })).toBeVisible()
  await page.getByRole('button', { name: /Histogram/ }).click()
  await expect(sentence(page)).toContainText('Plot the spread of honey yield')
  await expect(chart(page)).toHaveAttribute('data-painted', /[1-9]/)
})

test('what is pressed on the chart opens the word that governs it, and Ctrl-Z goes back', async ({ page }) => {
  await state(page, "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line\ntitle 'More forage'\nnote 'By the scale'")
  const box = (await chart(page).boundingBox())!
  await page.mouse.click(box.x + 40, box.y + 24)
  await expect(page.getByLabel('Title', { exact: true })).toBeFocused()
  await page.getByLabel('Title', { exact: true }).fill('Less forage')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByLabel('Title', { exact: true })).toBeHidden()
  await expect(sentence(page)).toContainText('Title “Less forage”')
  await page.getByRole('button', { name: 'By the scale', exact: true }).click()
  await expect(page.getByRole('textbox', { name: 'Note' })).toBeFocused()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'District', exact: true }).click()
  await choose(page, 'hive type')
  await expect(sentence(page)).toContainText('coloured by hive type')
  await page.keyboard.press('Control+z')
  await expect(sentence(page)).toContainText('coloured by district')
  await page.keyboard.press('Control+Shift+Z')
  await expect(sentence(page)).toContainText('coloured by hive type')
  // the line of the fit is found where the hand may press
  const surface = page.locator('.lark-chart canvas').last()
  let found = 0
  for (let y = 0.25; y < 0.85 && !found; y += 0.004) {
    await page.mouse.move(box.x + box.width / 2, box.y + box.height * y)
    if ((await surface.evaluate((c: HTMLElement) => c.style.cursor)) === 'pointer') found = y
  }
  await page.mouse.click(box.x + box.width / 2, box.y + box.height * found)
  await choose(page, 'dashed')
  await expect(sentence(page)).toContainText('Fit a straight line to all rows, dashed')
})

test('the sentence is copied as it is read, and typed it is the same chart', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await state(
    page,
    'plot mean(honey_kg) against district\nas bars\ninterval 95%\ntitle \'It’s "honey"\'\nwithout rows 3, 5, 8\nticks y every 7',
  )
  await expect(sentence(page)).toContainText('without 3 chosen rows')
  await page.getByRole('button', { name: /^Use again/ }).click()
  await page.getByRole('menuitem', { name: /^Copy the sentence/ }).click()
  await expect(page.getByText('Copied', { exact: true })).toBeAttached()
  const copied = await page.evaluate(() => navigator.clipboard.readText())
  expect(copied).toContain('without rows 3, 5 and 8')
  await state(page, copied)
  await expect(sentence(page)).toContainText('Title “It’s "honey"”')
  await page.keyboard.press('/')
  await expect(page.getByLabel('The sentence, typed')).toContainText(/without rows 3, 5, 8.*ticks y every 7/)
})

test('each view has a title and one heading, and the tab key skips to its parts', async ({ page }) => {
  const id = await hiveSeasons(page)
  for (const [path, title] of [
    ['/', 'Thornwick apiaries · Copper Lark'],
    ['/build', 'Build one to learn from it · Copper Lark'],
    ['/examples', 'Examples · Copper Lark'],
    [`/dataset/${id}/data`, 'Hive seasons · Data · Copper Lark'],
    [`/dataset/${id}/pairs`, 'Hive seasons · Pairs · Copper Lark'],
    [`/dataset/${id}/shared`, 'Hive seasons · Shared · Copper Lark'],
  ]) {
    await page.goto(path)
    await expect(page).toHaveTitle(title)
    await expect(page.locator('h1')).toHaveCount(1)
  }
  const name = await openForage(page)
  await page.goto(`/?find=${name}`)
  await page.getByRole('link', { name }).click()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await expect(page).toHaveTitle(`${name} · Hive seasons · Chart · Copper Lark`)
  await expect(page.locator('#announced')).toHaveText(`${name} · Hive seasons · Chart · Copper Lark`)
  for (const [part, inside] of [
    ['the sentence', '[data-slot=y]'],
    ['the chart', '.lark-chart canvas'],
    ['the reading', '[aria-label=Reading]'],
  ]) {
    await page.getByRole('button', { name: `Skip to ${part}` }).focus()
    await page.keyboard.press('Enter')
    await expect(page.locator(inside).and(page.locator(':focus'))).toHaveCount(1)
  }
})
