import { request, type Page } from '@playwright/test'
import { chart, demoChart, expect, hiveSeasons, openForage, openStory } from './pages'

/** A view, or something open in it: the route it is of, and how a person gets there. */
export interface State {
  name: string
  route: string
  open: (page: Page) => Promise<unknown>
}

const of = (route: string, states: [name: string, open: (page: Page) => Promise<unknown>][]): State[] =>
  states.map(([name, open]) => ({ name, route, open }))

const data = async (page: Page) => {
  await page.goto(`/dataset/${await hiveSeasons(page)}/data`)
  await expect(page.getByRole('cell').first()).toBeVisible()
}
const press = (page: Page, name: string | RegExp, within = page.locator('body')) => within.getByRole('button', { name }).first().click()
const item = (page: Page, name: string | RegExp) => page.getByRole('menuitem', { name }).click()
const chosen = (page: Page) => expect(page.getByRole('option').first()).toBeVisible()
const word = (slot: string) => async (page: Page) => {
  await openForage(page)
  await page.locator(`[data-slot="${slot}"]`).click()
}
const finding = (page: Page) =>
  page
    .getByRole('button', { name: /^district: / })
    .and(page.getByTitle(/What stands behind/))
    .first()
    .click()

/** Somebody new writes a note on the demo's chart, whose maker is who looks. */
async function noteForMe(page: Page) {
  const { key } = await (await page.request.post('/api/invitations', { data: { role: 'maker', uses: 1, days: 1 } })).json()
  const other = await request.newContext({ baseURL: process.env.LARK_ADDRESS, storageState: { cookies: [], origins: [] } })
  await other.post(`/api/invited/${key}/anew`, {
    data: { name: 'Bram Fell', email: `bram-${Math.random()}@thornwick.example`, password: 'three quiet hedges' },
  })
  const { id } = await demoChart(page, 'Mites and honey')
  await other.post('/api/notes', { data: { chart_id: id, spot: { kind: 'whole' }, text: 'Were these counted in May?' } })
  await other.dispose()
}

async function noted(page: Page) {
  await openForage(page)
  await press(page, 'write one…')
  await page.getByRole('combobox', { name: 'A new note' }).fill('Where is this?')
  await page.keyboard.press('Control+Enter')
  await page.getByRole('article').waitFor()
}

/** Every view with each menu, dialog and panel open: whoever adds one adds it here. */
export const STATES: State[] = [
  ...of('/', [
    [
      'front page',
      async (page) => (await page.goto('/'), await expect(page.getByRole('link', { name: 'Hive seasons', exact: true })).toBeVisible()),
    ],
    [
      'rows of a table that stays elsewhere',
      async (page) => (
        await page.goto('/'),
        await press(page, 'Take rows of public.flights'),
        await page.getByRole('dialog').getByLabel('Seed').waitFor()
      ),
    ],
    [
      'a chart of a table that stays elsewhere',
      async (page) => {
        await page.goto('/')
        await press(page, 'Chart public.door_counts where it is')
        await page.getByRole('region', { name: 'What was asked of the database' }).waitFor()
      },
    ],
    [
      'rows under a close look',
      async (page) => {
        await page.goto('/')
        await press(page, 'Chart public.door_counts where it is')
        await page.getByRole('region', { name: 'What was asked of the database' }).waitFor()
        await page.locator('.lark-chart').getByRole('application').focus()
        for (let i = 0; i < 10; i++) await page.keyboard.press('+')
        await press(page, 'List the rows under this part')
        await page.getByRole('dialog').getByText('of the table').or(page.getByRole('dialog').getByText('of all rows')).waitFor()
      },
    ],
    [
      'a file that is looked at',
      async (page) => {
        await page.goto('/')
        await page
          .getByLabel('File with a table')
          .setInputFiles({ name: 'looked at.csv', mimeType: 'text/csv', buffer: Buffer.from('place;kg\nTarn;10,5\nBrindle;n/a\n') })
        await expect(page.getByRole('dialog')).toBeVisible()
      },
    ],
    [
      'notes for somebody',
      async (page) => (await noteForMe(page), await page.goto('/'), await page.getByRole('region', { name: 'For you' }).waitFor()),
    ],
    ['the menu of a person', async (page) => (await page.goto('/'), await press(page, /: menu$/))],
  ]),
  ...of('/build', [
    ['build', async (page) => (await page.goto('/build'), await expect(chart(page)).toHaveAttribute('data-painted', /\d/))],
  ]),
  ...of('/examples', [
    ['examples', async (page) => (await page.goto('/examples'), await expect(page.locator('main img').first()).toBeVisible())],
  ]),
  ...of('/people', [
    ['people', async (page) => (await page.goto('/people'), await page.getByRole('table').waitFor())],
    [
      'an invitation that is made',
      async (page) => (await page.goto('/people'), await press(page, 'Invite…'), await page.getByLabel('Only for this address').waitFor()),
    ],
    [
      'a key that is made',
      async (page) => (await page.goto('/people'), await press(page, 'Make a key…'), await page.getByLabel('What uses it').waitFor()),
    ],
    [
      'an address that is named',
      async (page) => (
        await page.goto('/people'),
        await press(page, 'Name an address…'),
        await page.getByLabel('Address', { exact: true }).waitFor()
      ),
    ],
    [
      'of whom a second factor is asked',
      async (page) => (await page.goto('/people'), await press(page, /^A second factor/), await page.getByRole('menu').waitFor()),
    ],
  ]),
  ...of('/account', [
    ['account', async (page) => (await page.goto('/account'), await page.getByText('here, now').waitFor())],
    [
      'a second factor that is set up',
      async (page) => (
        await page.goto('/account'),
        await press(page, 'Set up codes…'),
        await press(page, 'Go on'),
        await page.getByAltText('The secret as squares').waitFor()
      ),
    ],
  ]),
  ...of('/invited/:key', [
    [
      'an invitation',
      async (page) => {
        const other = await request.newContext({
          baseURL: process.env.LARK_ADDRESS,
          storageState: JSON.parse(process.env.LARK_OTHER_SESSION!),
        })
        const { key } = await (await other.post('/api/invitations', { data: { role: 'reader', uses: 1, days: 1 } })).json()
        await other.dispose()
        await page.context().clearCookies()
        await page.goto(`/invited/${key}`)
        await page.getByLabel('Your name').waitFor()
      },
    ],
  ]),
  ...of('/password/:link', [
    ['a new password', async (page) => (await page.goto('/password/x'), await page.getByLabel('New password').waitFor())],
  ]),
  ...of('/first/:link', [['the first start', async (page) => (await page.goto('/first/x'), await page.getByLabel('Your name').waitFor())]]),
  ...of('/copy/:share', [
    [
      'a copy that is made',
      async (page) => (await page.goto('/copy/x'), await page.getByRole('button', { name: 'Make the copy' }).waitFor()),
    ],
  ]),
  ...of('/page/:page', [
    ['a page that is written', async (page) => void (await openStory(page))],
    [
      'a note on a block',
      async (page) => (await openStory(page), await page.getByLabel('Text of block 1').click(), await press(page, 'note…')),
    ],
    [
      'what can be done with a text',
      async (page) => (
        await openStory(page),
        await page.getByLabel('Text of block 1').click(),
        await page.getByRole('button', { name: 'bold' }).waitFor()
      ),
    ],
    [
      'earlier versions of a page',
      async (page) => (await openStory(page), await press(page, 'earlier versions'), await page.getByRole('dialog').waitFor()),
    ],
  ]),
  ...of('/audit', [['audit', async (page) => (await page.goto('/audit'), await page.getByRole('table').waitFor())]]),
  ...of('/dataset/:dataset/data', [
    ['data', data],
    [
      'where a file comes from again',
      async (page) => (await data(page), await press(page, 'Next version …'), await item(page, /come again/)),
    ],
    [
      'rows that are added',
      async (page) => {
        await data(page)
        await press(page, 'Next version …')
        await item(page, /^More rows/)
        const buffer = Buffer.from('district,honey_kg\nTarn,20\nTarn,21\n')
        await page.getByLabel('A new file for this dataset').setInputFiles({ name: 'more.csv', mimeType: 'text/csv', buffer })
        await page.getByText('2 rows are new').waitFor()
      },
    ],
    [
      'notes on a dataset',
      async (page) => (await data(page), await page.getByRole('tab', { name: /^Notes/ }).click(), await press(page, 'write one…')),
    ],
    ['what can be done with a column', async (page) => (await data(page), await press(page, 'District: what can be done with it'))],
    ['how a column is read', async (page) => (await data(page), await press(page, /^District is read as/))],
    [
      'all groups of a column',
      async (page) => {
        await data(page)
        await press(page, 'District: what can be done with it')
        await item(page, 'All its groups')
        await expect(page.getByRole('dialog').getByRole('row').nth(1)).toBeVisible()
      },
    ],
    [
      'a clause',
      async (page) => {
        await data(page)
        await press(page, '+ add')
        await press(page, /^keep the rows/)
        await chosen(page)
      },
    ],
    ['a typed preparation', async (page) => (await data(page), await press(page, 'Type it'), await page.locator('.cm-content').waitFor())],
    [
      'summary',
      async (page) => (
        await data(page),
        await page.getByRole('tab', { name: 'Summary' }).click(),
        await page.getByText('Lower quartile').waitFor()
      ),
    ],
    [
      'meanings',
      async (page) => (
        await data(page),
        await page.getByRole('tab', { name: 'Meanings' }).click(),
        await page.getByLabel('Unit of honey_kg').waitFor()
      ),
    ],
    ['ways to the next version', async (page) => (await data(page), await press(page, 'Next version'))],
    ['cells that are typed into', async (page) => (await data(page), await press(page, 'Next version'), await item(page, 'Type into'))],
    ['columns that are pasted', async (page) => (await data(page), await press(page, 'Next version'), await item(page, 'More columns'))],
    ['forms to download', async (page) => (await data(page), await press(page, 'Download'))],
  ]),
  ...of('/dataset/:dataset/pairs', [
    [
      'pairs',
      async (page) => (
        await page.goto(`/dataset/${await hiveSeasons(page)}/pairs`),
        await page.getByRole('group', { name: 'Pairs' }).waitFor()
      ),
    ],
  ]),
  ...of('/dataset/:dataset/chart', [
    [
      'a new chart',
      async (page) => (
        await page.goto(`/dataset/${await hiveSeasons(page)}/chart?new=1`),
        await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
      ),
    ],
  ]),
  ...of('/dataset/:dataset/chart/:chart', [
    ['chart', openForage],
    ['a note', noted],
    [
      'a note that is written',
      async (page) => (await openForage(page), await press(page, 'write one…'), await page.getByRole('radio').first().waitFor()),
    ],
    ['a word', async (page) => (await word('y')(page), await chosen(page))],
    ['what more can be said', async (page) => (await openForage(page), await press(page, '+ add'), await chosen(page))],
    [
      'an axis',
      async (page) => (
        await openForage(page),
        await press(page, '+ add'),
        await page.getByLabel('Find what to add').fill('limits'),
        await page
          .getByRole('option', { name: /limits/ })
          .first()
          .click(),
        await page.getByText('turned round').waitFor()
      ),
    ],
    [
      'a title',
      async (page) => (
        await openForage(page),
        await press(page, '+ add'),
        await page.getByLabel('Find what to add').fill('title'),
        await page.getByRole('option', { name: /title/ }).first().click(),
        await page.getByLabel('Title', { exact: true }).waitFor()
      ),
    ],
    [
      'the typed sentence',
      async (page) => (await openForage(page), await page.keyboard.press('/'), await page.getByLabel('The sentence, typed').waitFor()),
    ],
    [
      'evidence',
      async (page) => (
        await openForage(page),
        await finding(page),
        await page.getByRole('complementary', { name: 'Evidence' }).getByRole('table').waitFor()
      ),
    ],
    [
      'does it hold',
      async (page) => (
        await openForage(page),
        await press(page, 'Does it hold?'),
        await page.getByRole('complementary').getByRole('table').waitFor()
      ),
    ],
    ['how a picture is saved', async (page) => (await openForage(page), await press(page, 'Save picture'))],
    ['rows that were left out', async (page) => (await openForage(page), await press(page, /left out$/))],
    ['what a share holds', async (page) => (await openForage(page), await press(page, 'Share'), await page.getByRole('dialog').waitFor())],
  ]),
  ...of('/dataset/:dataset/compare', [
    [
      'two charts beside each other',
      async (page) => {
        const [a, b] = [await demoChart(page, 'Forage seems to cost honey'), await demoChart(page, 'Inside each district')]
        await page.goto(`/dataset/${a.dataset_id}/compare?a=${a.id}&b=${b.id}`)
        for (const side of await page.locator('.lark-chart').all()) await side.and(page.locator('[data-painted]')).waitFor()
        await page.getByRole('button', { name: 'only B leaves out' }).or(page.getByText('Both leave out the same rows.')).first().waitFor()
      },
    ],
  ]),
  ...of('/dataset/:dataset/shared', [
    ['shared', async (page) => (await page.goto(`/dataset/${await hiveSeasons(page)}/shared`), await page.getByRole('main').waitFor())],
  ]),
  ...of('*', [
    [
      'nothing',
      async (page) => {
        await page.goto('/')
        await page.evaluate(() => (history.pushState({}, '', location.pathname + '/nowhere'), dispatchEvent(new PopStateEvent('popstate'))))
        await page.getByText('There is nothing at this address').waitFor()
      },
    ],
  ]),
]
