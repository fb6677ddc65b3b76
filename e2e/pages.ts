import { test as base, expect, type Browser, type Page } from '@playwright/test'

/** A signed-in page that fails its test for a script error, a blocked resource or a request to another host. */
export const test = base.extend<{ page: Page }>({
  baseURL: async ({}, use) => use(process.env.LARK_ADDRESS),
  storageState: async ({}, use) => use(JSON.parse(process.env.LARK_SESSION!)),
  page: async ({ page }, use) => {
    const faults = watch(page)
    await use(page)
    expect(faults).toEqual([])
  },
})

export function watch(page: Page): string[] {
  const faults: string[] = []
  page.on('pageerror', (fault) => faults.push(`script: ${fault.message}`))
  page.on('console', (message) => {
    if (message.type() === 'error' && !message.text().includes('status of 4')) faults.push(`console: ${message.text()}`)
  })
  page.on('request', (request) => {
    if (!request.url().startsWith(process.env.LARK_ADDRESS!) && !request.url().startsWith('blob:') && !request.url().startsWith('data:'))
      faults.push(`asks ${request.url()}`)
  })
  return faults
}

export const chart = (page: Page) => page.locator('.lark-chart')
export const card = (page: Page) => page.locator('.lark-card')
export const sentence = (page: Page) => page.getByRole('region', { name: 'Sentence' })

/** Presses a word of the sentence, looks a choice up, and keeps it. */
export async function say(page: Page, slot: string, search: string) {
  await page.locator(`[data-slot="${slot}"]`).click()
  await choose(page, search)
}

export async function choose(page: Page, search: string) {
  await expect(page.getByLabel('Find what to add')).toBeHidden() // what it led to has the keys
  const field = page.getByRole('combobox')
  await field.fill(search)
  await field.press('Enter')
  await expect(field).toBeHidden()
}

export async function add(page: Page, search: string) {
  await page.getByRole('button', { name: '+ add' }).click()
  const field = page.getByLabel('Find what to add')
  await field.fill(search)
  await field.press('Enter')
  await expect(field).toBeHidden()
}

/** Moves over the chart in small steps until a card with the text is shown. */
export async function hoverFor(page: Page, text: string, within = chart(page), shown = card(page)): Promise<void> {
  const box = (await within.boundingBox())!
  for (let y = 10; y < box.height - 50; y += 22) {
    for (let x = 60; x < box.width - 10; x += 22) {
      await page.mouse.move(box.x + x, box.y + y)
      if ((await shown.isVisible()) && (await shown.textContent())!.includes(text)) return
    }
  }
  throw new Error(`no mark shows ${text}`)
}

/** Somebody new of the demo's space, at its front page. */
export async function newcomer(browser: Browser, page: Page, name: string, role = 'maker'): Promise<Page> {
  const { key } = await (await page.request.post('/api/invitations', { data: { role, uses: 1, days: 1 } })).json()
  const context = await browser.newContext({ baseURL: process.env.LARK_ADDRESS, storageState: undefined, reducedMotion: 'reduce' })
  const second = await context.newPage()
  await second.goto(`/invited/${key}`)
  await second.getByLabel('Your name').fill(name)
  await second.getByLabel('Email address').fill(`${name.replaceAll(' ', '.')}-${Math.random()}@thornwick.example`)
  await second.getByLabel('Password', { exact: true }).fill('three quiet hedges')
  await second.getByRole('button', { name: /^Come into/ }).click()
  await expect(second.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  return second
}

/** The demo's chart of a name, which no test changes. */
export async function demoChart(
  page: Page,
  name: string,
): Promise<{ id: number; head_step_id: number; version_id: number; dataset_id: number }> {
  const charts: { id: number; head_step_id: number; version_id: number; dataset_id: number; name: string }[] = await (
    await page.request.get('/api/charts')
  ).json()
  return charts.filter((c) => c.name === name).sort((a, b) => a.id - b.id)[0]
}

/** Opens a chart of the test's own that says what the demo's chart of a name says, and gives its name. */
export async function openOwn(page: Page, demo: string, painted = /\d/): Promise<string> {
  const { id, version_id, dataset_id } = await demoChart(page, demo)
  const { document } = await (await page.request.get(`/api/charts/${id}`)).json()
  const name = `Own ${Math.random()}`
  const made = await page.request.post('/api/charts', { data: { version_id, document, name } })
  await page.goto(`/dataset/${dataset_id}/chart/${(await made.json()).id}`)
  await expect(chart(page)).toHaveAttribute('data-painted', painted)
  return name
}

export const openForage = (page: Page) => openOwn(page, 'More forage, more honey?', /10\d\d/)

/** Makes a page of the test's own, with two charts of one table and texts beside them. */
export async function makeStory(page: Page, title = `Story ${Math.random()}`): Promise<number> {
  const forage = await demoChart(page, 'More forage, more honey?')
  const mites = await demoChart(page, 'Mites and honey')
  const blocks = [
    { id: 'a', text: '## At first sight\n\nOver all hives, yield falls.', chart: { id: forage.id } },
    { id: 'b', text: '## And the mites\n\nMore of them, less honey.', chart: { id: mites.id } },
  ]
  const made = await page.request.post('/api/pages', { data: { contents: { version: 1, title, lead: 'What the valley says.', blocks } } })
  return (await made.json()).id
}

/** Opens a page of the test's own, and waits until its charts are drawn. */
export async function openStory(page: Page): Promise<number> {
  const id = await makeStory(page)
  await page.goto(`/page/${id}`)
  await expect(chart(page)).toHaveCount(2)
  for (const one of await chart(page).all()) await expect(one).toHaveAttribute('data-painted', /\d/)
  return id
}

/** The number of the demo's hive seasons. */
export async function hiveSeasons(page: Page): Promise<number> {
  const datasets = await (await page.request.get('/api/datasets')).json()
  return datasets.find((d: { name: string }) => d.name === 'Hive seasons').id
}

/** Begins a chart of the demo's hive seasons, and states it. */
export async function state(page: Page, typed: string) {
  const id = await hiveSeasons(page)
  await page.goto(`/dataset/${id}/chart?new=${Math.random()}`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await type(page, typed)
}

export async function type(page: Page, typed: string) {
  await page.getByRole('button', { name: /^Type it/ }).click()
  await page.getByLabel('The sentence, typed').fill(typed)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByLabel('The sentence, typed')).toBeHidden()
}

export const reading = (page: Page) => page.getByRole('complementary', { name: 'Reading' })
export { expect }
