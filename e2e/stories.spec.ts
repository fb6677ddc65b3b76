import { once } from 'node:events'
import { createServer } from 'node:http'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { AddressInfo } from 'node:net'
import { card, chart, demoChart, expect, hoverFor, makeStory, openStory, say, test, watch } from './pages'
import type { Browser, Page } from '@playwright/test'

const text = (page: Page, n: number) => page.getByLabel(`Text of block ${n}`)
const kept = (page: Page) => expect(page.getByRole('status').filter({ hasText: 'saved a moment ago' })).toBeVisible()
const contentsOf = async (page: Page, id: number) => (await (await page.request.get(`/api/pages/${id}`)).json()).contents

const NOBODY = { cookies: [], origins: [] }

/** A reader without an account. */
async function reader(browser: Browser, options: Parameters<Browser['newContext']>[0] = {}) {
  const page = await (await browser.newContext({ baseURL: process.env.LARK_ADDRESS, storageState: NOBODY, ...options })).newPage()
  return { page, faults: watch(page) }
}

async function shared(page: Page, id: number, wanted: object = {}): Promise<string> {
  return (await (await page.request.post(`/api/pages/${id}/share`, { data: wanted })).json()).key
}

test('a page is written: texts, charts, words of the reading, their order, and how it was', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New page' }).click()
  await page.getByLabel('Title of the page').fill('Mites and <b>honey</b>')
  await page.getByLabel('Find a chart').fill('mites')
  await page.getByRole('button', { name: 'Mites and honey' }).first().click()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await text(page, 1).click()
  await page.keyboard.type('## More mites\n')
  await page.keyboard.type('Honey ')
  const said = page.getByRole('region', { name: 'Say from the reading' })
  await said.getByRole('button', { name: /^falls by/ }).click()
  await expect(text(page, 1).locator('.tie')).toHaveText(/^falls by/)
  await expect(page.getByText('from the reading; follows the chart')).toBeVisible()
  await kept(page)
  const id = Number(/\d+$/.exec(page.url())![0])
  const contents = await contentsOf(page, id)
  expect(contents.title).toBe('Mites and <b>honey</b>')
  expect(contents.blocks[0].text).toMatch(/^## More mites\n\nHoney \[falls by [^\]]+\]\(reading:[0-9a-f]{16}\.1\)$/)
  // A second block, moved above the first by the keyboard, and taken back.
  await page.getByRole('button', { name: 'write here' }).last().click()
  await page.keyboard.type('At the end')
  await page.getByRole('button', { name: /^Move block 2/ }).press('ArrowUp')
  await expect(text(page, 1)).toHaveText('At the end')
  await page.getByRole('button', { name: 'undo' }).click()
  await expect(text(page, 2)).toHaveText('At the end')
  await page.reload()
  await expect(page.getByLabel('Title of the page')).toHaveValue('Mites and <b>honey</b>')
  await expect(text(page, 2)).toHaveText('At the end')
  // It stands on the front page, and is found by a word of its text.
  await page.goto('/')
  await expect(page.getByRole('region', { name: 'Pages' }).getByText('Mites and <b>honey</b>')).toBeVisible()
})

test('words follow their chart, and say so where it says otherwise or no more', async ({ page }) => {
  const { id, version_id } = await demoChart(page, 'Mites and honey')
  const { document } = await (await page.request.get(`/api/charts/${id}`)).json()
  const own = await (await page.request.post('/api/charts', { data: { version_id, document, name: `Followed ${Math.random()}` } })).json()
  const blocks = [{ id: 'a', text: 'Honey here.', chart: { id: own.id } }]
  const made = await (await page.request.post('/api/pages', { data: { contents: { version: 1, title: 'Followed', blocks } } })).json()
  await page.goto(`/page/${made.id}`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await text(page, 1).click()
  await page
    .getByRole('region', { name: 'Say from the reading' })
    .getByRole('button', { name: /^falls by/ })
    .click()
  const was = await text(page, 1).locator('.tie').textContent()
  await kept(page)
  // The chart is changed elsewhere: rows of one district alone.
  await page.goto(`/dataset/${own.dataset_id}/chart/${own.id}`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await page.getByRole('button', { name: /^Type it/ }).click()
  await page
    .getByLabel('The sentence, typed')
    .fill('of rows where frames > 12\nplot honey_kg against mites_per_100\ncolour by keeper_school\nfit line')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByLabel('The sentence, typed')).toBeHidden()
  await expect(page.getByText('2 steps').or(page.locator('[aria-label="Trail"] li').nth(1)).first()).toBeVisible()
  await page.goto(`/page/${made.id}`)
  const tie = text(page, 1).locator('.tie')
  await expect(tie).toHaveAttribute('data-state', new RegExp(`^was: ${was!.slice(0, 8)}`))
  await tie.click()
  await page.getByRole('button', { name: 'it is well so' }).click()
  await expect(tie).toHaveAttribute('data-state', '')
  // Of other columns it says nothing of the kind: the words stay, and are marked.
  await page.goto(`/dataset/${own.dataset_id}/chart/${own.id}`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await say(page, 'y', 'frames')
  await expect(page.locator('[data-slot="y"]')).toContainText(/frames/i)
  await page.waitForTimeout(500) // until the step is kept
  await page.goto(`/page/${made.id}`)
  await expect(text(page, 1).locator('.tie')).toHaveAttribute('data-state', 'gone')
  await expect(page.getByText('the chart no longer says what is marked')).toBeVisible()
  await page.getByRole('button', { name: 'Share…' }).click()
  await expect(page.getByRole('alert')).toContainText('no longer say')
})

test('two write at once, one of them cut off for a while: nothing is lost', async ({ page, browser }) => {
  const id = await openStory(page)
  const context = await browser.newContext({ baseURL: process.env.LARK_ADDRESS, storageState: JSON.parse(process.env.LARK_SESSION!) })
  const other = await context.newPage()
  await other.goto(`/page/${id}`)
  await expect(text(other, 2)).toBeVisible()
  await text(other, 1).click()
  await other.keyboard.press('Control+End')
  await context.setOffline(true)
  await other.keyboard.type(' Written without a connection.')
  await expect(other.getByText('not saved yet; trying again')).toBeVisible()
  await text(page, 2).click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' Written beside it.')
  await kept(page)
  await other.close() // its window is closed before it had a connection again
  await context.setOffline(false)
  const again = await context.newPage()
  await again.goto(`/page/${id}`)
  await expect(text(again, 1)).toContainText('Written without a connection.')
  await expect(text(again, 2)).toContainText('Written beside it.')
  await expect(text(page, 1)).toContainText('Written without a connection.', { timeout: 15_000 })
  const { blocks } = await contentsOf(page, id)
  expect(blocks).toHaveLength(2)
})

test('a reader of a page has all charts under one hand, and one file without a network', async ({ page, browser }) => {
  const forage = await demoChart(page, 'More forage, more honey?')
  const inside = await demoChart(page, 'Inside each district')
  const blocks = [
    { id: 'a', text: '## First', chart: { id: forage.id } },
    { id: 'b', text: 'Then | *hostile* <script>alert(1)</script> [x](javascript:alert(1))', chart: { id: inside.id }, place: 'below' },
  ]
  const contents = { version: 1, title: 'One hand', blocks }
  const made = await (await page.request.post('/api/pages', { data: { contents } })).json()
  const key = await shared(page, made.id)
  const { page: read, faults } = await reader(browser)
  const under = async (read: Page) => {
    for (const one of await chart(read).all()) await expect(one).toHaveAttribute('data-painted', /\d/)
    await hoverFor(read, 'Brindle', chart(read).first(), card(read).first())
    const rings = () =>
      read.evaluate(() =>
        [...document.querySelectorAll<HTMLElement>('.lark-chart')].map((host) => {
          const over = host.querySelectorAll('canvas')[host.querySelectorAll('canvas').length - 1]
          const { data } = over.getContext('2d')!.getImageData(0, 0, over.width, over.height)
          return data.some((v, i) => i % 4 === 3 && v > 0)
        }),
      )
    await expect.poll(rings).toEqual([true, true])
    await read.mouse.move(0, 0)
    await read.getByRole('button', { name: 'Tarn' }).first().click()
    await expect.poll(() => read.locator('.key-entry[aria-pressed="true"]').count()).toBeGreaterThan(0)
  }
  await read.goto(`/s/${key}`)
  await expect(read.locator('script:not([src])')).toHaveCount(0)
  await expect(read.getByText('<script>alert(1)</script>')).toBeVisible()
  await under(read)
  await read.getByRole('button', { name: 'How this was made' }).click()
  await expect(read.locator('pre').first()).toContainText('plot honey_kg against forage_ha')
  expect(faults).toEqual([])
  // The same from a disk, with no network at all.
  const file = join(mkdtempSync(join(tmpdir(), 'lark-file-')), 'story.html')
  writeFileSync(file, await (await page.request.get(`/s/${key}.html`)).body())
  const alone = await (await browser.newContext({ offline: true })).newPage()
  const asked: string[] = []
  alone.on('request', (r) => /^(file|data|blob):/.test(r.url()) || asked.push(r.url()))
  await alone.goto(`file://${file}`)
  await under(alone)
  await alone.getByRole('button', { name: 'Table of values' }).click()
  await expect(alone.getByRole('cell', { name: 'Brindle' }).first()).toBeVisible()
  expect(asked).toEqual([])
})

test('on a phone a chart is laid out anew, and a sheet tells what is touched', async ({ page, browser }) => {
  const key = await shared(page, await makeStory(page))
  const { page: read, faults } = await reader(browser, { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })
  await read.goto(`/s/${key}`)
  await expect(chart(read).first()).toHaveAttribute('data-painted', /\d/)
  expect(
    await chart(read)
      .first()
      .evaluate((e) => [e.clientWidth, e.clientHeight]),
  ).toEqual([358, 268])
  const box = (await chart(read).first().boundingBox())!
  await read.touchscreen.tap(box.x + box.width * 0.45, box.y + box.height * 0.42)
  const sheet = card(read).first()
  await expect(sheet).toContainText('Honey yield')
  const first = await sheet.textContent()
  const shown = (await sheet.boundingBox())!
  expect(Math.round(shown.x + shown.width)).toBe(390)
  expect(Math.round(shown.y + shown.height)).toBe(844)
  await sheet.getByRole('button', { name: 'after' }).tap()
  await expect(sheet).not.toHaveText(first!)
  await sheet.getByRole('button', { name: 'Close' }).tap()
  await expect(sheet).toBeHidden()
  expect(await read.evaluate(() => document.documentElement.scrollWidth)).toBe(390)
  expect(faults).toEqual([])
})

test('a share stands in pages of others, without a script, on paper, behind a password', async ({ page, browser }) => {
  const id = await makeStory(page)
  const key = await shared(page, id)
  const wiki = createServer((asked, answer) => {
    answer.setHeader('Content-Type', 'text/html')
    if (asked.url === '/strict') answer.setHeader('Content-Security-Policy', `default-src 'none'; frame-src ${process.env.LARK_ADDRESS}`)
    const script = asked.url === '/' ? `<script src="${process.env.LARK_ADDRESS}/embed.js"></script>` : ''
    answer.end(`<iframe src="${process.env.LARK_ADDRESS}/embed/${key}?theme=dark" title="x" width="900" height="300"></iframe>${script}`)
  }).listen(0, '127.0.0.1')
  await once(wiki, 'listening')
  const { port } = wiki.address() as AddressInfo
  for (const path of ['/', '/strict']) {
    const outside = await (await browser.newContext({ storageState: NOBODY })).newPage()
    await outside.goto(`http://127.0.0.1:${port}${path}`)
    const frame = outside.frameLocator('iframe')
    await expect(frame.locator('.lark-chart').first()).toHaveAttribute('data-painted', /\d/)
    expect(await outside.context().cookies()).toEqual([])
    if (path === '/') await expect.poll(() => outside.locator('iframe').evaluate((f) => f.clientHeight)).toBeGreaterThan(600)
    await outside.context().close()
  }
  wiki.close()
  const { page: plain } = await reader(browser, { javaScriptEnabled: false })
  await plain.goto(`/s/${key}`)
  const picture = plain.getByRole('img').first()
  await expect(picture).toHaveAttribute('alt', /honey yield/)
  expect((await picture.boundingBox())!.height).toBeGreaterThan(100)
  // On paper it is in ink, whatever the screen is, and nothing is left that only a hand could press; the charts are printed.
  const { page: dark } = await reader(browser, { colorScheme: 'dark' })
  await dark.goto(`/s/${key}`)
  await expect(chart(dark).first()).toHaveAttribute('data-painted', /\d/)
  await dark.emulateMedia({ media: 'print' })
  await dark.evaluate(() => dispatchEvent(new Event('beforeprint')))
  await expect(dark.locator('html')).toHaveAttribute('data-theme', 'light')
  const printed = async () => (await dark.pdf({ format: 'A4', printBackground: true })).length
  const whole = await printed()
  await dark.evaluate(() => document.querySelectorAll('.lark-chart').forEach((c) => c.remove()))
  expect(whole, 'the charts stand on the paper').toBeGreaterThan(2 * (await printed()))
  await expect(dark.getByRole('navigation')).toBeHidden()
  const secret = await shared(page, id, { password: 'green heather' })
  const { page: locked } = await reader(browser)
  await locked.goto(`/s/${secret}`)
  await locked.getByLabel('Password').fill('red heather')
  await locked.getByRole('button', { name: 'Open it' }).click()
  await expect(locked.getByRole('alert')).toContainText('wrong')
  await locked.getByLabel('Password').fill('green heather')
  await locked.getByRole('button', { name: 'Open it' }).click()
  await expect(chart(locked).first()).toHaveAttribute('data-painted', /\d/)
})

test('what goes out is seen before it does, and a share says for whom it is', async ({ page }) => {
  await openStory(page)
  await page.getByRole('button', { name: 'Share…' }).click()
  const dialog = page.getByRole('dialog')
  const look = page.frameLocator('iframe[title="What a reader gets"]')
  await expect(look.locator('.lark-chart').first()).toHaveAttribute('data-painted', /\d/)
  await dialog.getByRole('button', { name: 'dark' }).click()
  await expect(look.locator('html')).toHaveAttribute('data-theme', 'dark')
  await dialog.getByRole('button', { name: 'phone' }).click()
  await expect(look.locator('.lark-chart').first()).toHaveAttribute('data-painted', /\d/)
  await expect(dialog.getByText(/rows go out/).first()).toBeVisible()
  await dialog.getByLabel('Live').check()
  await dialog.getByLabel(/People of/).check()
  await dialog.getByRole('button', { name: 'Share', exact: true }).click()
  await expect(dialog).toContainText('People of this space can read it by this link. It follows what is kept.')
  const link = await dialog.getByLabel('Link to what is shared').inputValue()
  expect((await page.request.get(link)).status()).toBe(200)
  expect((await (await fetch(link)).text()).includes('Only people of its space')).toBe(true)
})

test('a page is told as slides, and copied into a space of one’s own', async ({ page, browser }) => {
  const pages = await (await page.request.get('/api/pages?find=once+you+stay')).json()
  const key = await shared(page, pages.at(-1).id)
  const { page: read, faults } = await reader(browser)
  await read.goto(`/s/${key}`)
  for (const one of await chart(read).all()) await expect(one).toHaveAttribute('data-painted', /\d/)
  await read.getByRole('button', { name: 'Show as slides' }).click()
  const slides = read.getByRole('dialog')
  await expect(slides.getByRole('heading', { level: 1 })).toContainText('once you stay')
  await expect(slides.getByRole('status').first()).toHaveText('1 of 4')
  for (const [n, heading] of [
    [2, 'At first sight'],
    [3, 'Inside each district'],
    [4, 'So take the district out'],
  ] as const) {
    await read.keyboard.press('ArrowRight')
    await expect(slides).toContainText(heading)
    await expect(slides.getByText(`${n} of 4`)).toBeVisible()
    await expect(slides.locator('.lark-chart')).toHaveAttribute('data-painted', /\d/)
  }
  await read.keyboard.press('ArrowRight') // there is none after the last
  await read.keyboard.press('Home')
  await expect(slides.getByText('1 of 4')).toBeVisible()
  await slides.getByRole('button', { name: 'Close' }).click()
  await expect(slides).toBeHidden()
  await expect(read.getByRole('button', { name: 'Show as slides' })).toBeFocused()
  expect(faults).toEqual([])
  // Somebody with a space of their own takes a copy of it.
  const context = await browser.newContext({ baseURL: process.env.LARK_ADDRESS, storageState: JSON.parse(process.env.LARK_OTHER_SESSION!) })
  const other = await context.newPage()
  await other.goto(`/s/${key}`)
  await other.getByRole('link', { name: 'Open a copy of it' }).click()
  await other.getByRole('button', { name: 'Make the copy' }).click()
  await expect(chart(other)).toHaveCount(3)
  for (const one of await chart(other).all()) await expect(one).toHaveAttribute('data-painted', /\d/)
  await expect(text(other, 1)).toContainText('falls by')
  const datasets = await (await other.request.get('/api/datasets', { headers: { 'Lark-Space': /in\/(\d+)/.exec(other.url())![1] } })).json()
  expect(datasets.filter((d: { name: string }) => d.name.includes('once you stay'))).toHaveLength(2)
  await context.close()
})

test('charts of one column share its axis where the page says so', async ({ page }) => {
  await openStory(page)
  await expect(chart(page).nth(1)).toHaveAttribute('data-painted', /\d/)
  const drawn = page.waitForResponse((r) => /\/figure\?.*page=\d+/.test(r.url()) && r.ok())
  await page.getByLabel('charts of one column share its axis').check()
  await drawn
  await kept(page)
  await page.reload()
  await expect(page.getByLabel('charts of one column share its axis')).toBeChecked()
})
