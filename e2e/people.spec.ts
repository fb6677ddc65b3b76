import { createHmac } from 'node:crypto'
import type { Browser, BrowserContext, Page } from '@playwright/test'
import { chart, expect, test as base } from './pages'

/** The pages of somebody who owns spaces of their own. */
const test = base.extend({ storageState: async ({}, use) => use(JSON.parse(process.env.LARK_OTHER_SESSION!)) })

const PASSWORD = 'three quiet hedges'
let last = 0
const email = () => `somebody-${process.pid}-${++last}@thornwick.example`

/** A space of the test's own, with a table in it: where it is, and how its owner asks about it. */
async function ownSpace(page: Page, name = `Space ${Math.random()}`) {
  const space = await (await page.request.post('/api/spaces', { data: { name } })).json()
  const headers = { 'Lark-Space': String(space.id) }
  const typed = 'make 60 rows\nwork out x = normal(50, 10)\nwork out y = 20 + 0.5 * x + normal(0, 6)\n'
  const dataset = await (await page.request.post('/api/datasets', { headers, data: { name: 'Rows', typed } })).json()
  return { ...space, name, headers, dataset: dataset.id as number }
}

type Space = Awaited<ReturnType<typeof ownSpace>>

async function invite(page: Page, space: Space, role = 'maker') {
  const answer = await page.request.post('/api/invitations', { headers: space.headers, data: { role, uses: 1, days: 1 } })
  return `/invited/${(await answer.json()).key}`
}

/** Somebody new comes in by an invitation, in a browser of their own. */
async function comeIn(browser: Browser, link: string, name: string, at = process.env.LARK_ADDRESS!) {
  const context = await browser.newContext({ storageState: undefined, viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  const address = email()
  await page.goto(at + link)
  await page.getByLabel('Your name').fill(name)
  await page.getByLabel('Email address').fill(address)
  await page.getByLabel('Password', { exact: true }).fill(PASSWORD)
  await page.getByRole('button', { name: /^Come into/ }).click()
  await expect(page.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  return { page, context, email: address }
}

async function signOut(page: Page, name: string) {
  await page.getByRole('button', { name: `${name}: menu` }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await expect(page.getByLabel('Password', { exact: true })).toBeVisible()
}

async function signIn(page: Page, address: string) {
  await page.getByLabel('Email address').fill(address)
  await page.getByLabel('Password', { exact: true }).fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in', exact: true }).click()
}

/** RFC 6238: the code of a secret at a half minute, now or some half minutes later. */
function codeOf(secret: string, later = 0): string {
  const letters = [...secret.replaceAll(' ', '')]
    .map((c) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0'))
    .join('')
  const key = Buffer.from((letters.match(/.{8}/g) ?? []).map((bits) => parseInt(bits, 2)))
  const counter = Buffer.alloc(8)
  counter.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000) + later))
  const sum = createHmac('sha1', key).update(counter).digest()
  return String((sum.readUInt32BE(sum[19] & 15) & 0x7fffffff) % 1_000_000).padStart(6, '0')
}

test('an owner invites, changes a role and takes out; the other window follows without being loaded again', async ({ page, browser }) => {
  const space = await ownSpace(page)
  await page.goto(`${space.address}/people`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('is open to 1 person: 1 owner.')
  await page.getByRole('button', { name: 'Invite…' }).click()
  await page.getByRole('button', { name: 'Make the link' }).click()
  const link = await page.getByTitle(/\/invited\//).getAttribute('title')
  const rhys = await comeIn(browser, new URL(link!).pathname, 'Rhys Aled')
  expect(new URL(rhys.page.url()).pathname).toBe(space.address)
  await expect(rhys.page.getByRole('button', { name: 'Choose a file…' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('2 people: 1 owner and 1 maker.')
  await page.getByRole('button', { name: /^Rhys Aled is here as maker/ }).click()
  await page.getByRole('menuitem', { name: /^reader/ }).click()
  await expect(rhys.page.getByText('what you try is not kept')).toBeVisible({ timeout: 15_000 })
  await expect(rhys.page.getByRole('button', { name: 'Choose a file…' })).toBeHidden()
  // The server does not wait for the window.
  const refused = await rhys.page.request.post('/api/datasets', { headers: space.headers, data: { name: 'No', typed: 'make 3 rows' } })
  expect(refused.status()).toBe(403)
  // A reader tries, and nothing is kept.
  await rhys.page.getByRole('link', { name: 'Chart', exact: true }).click()
  await expect(chart(rhys.page)).toHaveAttribute('data-painted', /\d/)
  await rhys.page.getByRole('button', { name: /^Type it/ }).click()
  await rhys.page.getByLabel('The sentence, typed').fill('plot y against x\nfit line')
  await rhys.page.keyboard.press('Control+Enter')
  await expect(rhys.page.getByText('What you try is not kept')).toBeVisible()
  await expect(rhys.page.getByLabel('Trail').getByRole('listitem')).toHaveCount(2)
  expect(await (await page.request.get('/api/charts', { headers: space.headers })).json()).toEqual([])
  page.once('dialog', (dialog) => void dialog.accept())
  await page.getByRole('row', { name: /Rhys Aled/ }).hover()
  await page.getByRole('button', { name: 'Take Rhys Aled out' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('1 person')
  await expect(rhys.page.getByText('There is no such space, or you are not in it')).toBeVisible({ timeout: 15_000 })
  await rhys.context.close()
})

test('somebody in two spaces changes between them, and what is of the other is not there', async ({ page, browser }) => {
  const first = await ownSpace(page, 'Brindle hives')
  const second = await ownSpace(page, 'Tarn hives')
  const { page: mab, context } = await comeIn(browser, await invite(page, first), 'Mab Aldous')
  await mab.goto(await invite(page, second, 'reader'))
  await mab.getByRole('button', { name: 'Come in' }).click()
  await expect(mab.getByText(`You read in ${second.name}`)).toBeVisible()
  await mab.getByRole('button', { name: 'Change the space' }).click()
  await mab.getByRole('menuitem', { name: /Brindle hives/ }).click()
  await expect(mab).toHaveURL(new RegExp(`${first.address}$`))
  await expect(mab.getByRole('button', { name: 'Choose a file…' })).toBeVisible()
  // The address says the space: of a dataset without one it is the dataset's own.
  await mab.goto(`/dataset/${second.dataset}/data`)
  await expect(mab).toHaveURL(new RegExp(`${second.address}/dataset/${second.dataset}/data$`))
  await expect(mab.getByRole('button', { name: 'Download' })).toBeHidden()
  await mab.goto(`${first.address}/dataset/${second.dataset}/data`)
  await expect(mab.getByText('This dataset cannot be opened')).toBeVisible()
  await context.close()
})

test('an invitation works once, for the address that it was made for, until it is taken back', async ({ page, browser }) => {
  const space = await ownSpace(page)
  const answer = await page.request.post('/api/invitations', {
    headers: space.headers,
    data: { role: 'reader', email: 'Jon.Hale@hillschool.example', uses: 5, days: 1 },
  })
  const { id, key } = await answer.json()
  const stranger = await (await browser.newContext({ storageState: undefined })).newPage()
  await stranger.goto(`${process.env.LARK_ADDRESS}/invited/${key}`)
  await stranger.getByLabel('Your name').fill('Not Jon')
  await stranger.getByLabel('Email address').fill(email())
  await stranger.getByLabel('Password', { exact: true }).fill('password1234')
  await stranger.getByRole('button', { name: /^Come into/ }).click()
  await expect(stranger.getByRole('alert')).toContainText('This invitation is for another address')
  await stranger.getByLabel('Email address').fill('jon.hale@hillschool.example')
  await stranger.getByRole('button', { name: /^Come into/ }).click()
  await expect(stranger.getByRole('alert')).toContainText('one that many people use')
  expect((await page.request.delete(`/api/invitations/${id}`, { headers: space.headers })).status()).toBe(204)
  await stranger.getByLabel('Password', { exact: true }).fill(PASSWORD)
  await stranger.getByRole('button', { name: /^Come into/ }).click()
  await expect(stranger.getByRole('alert')).toContainText('leads nowhere any more')
  await stranger.reload()
  await expect(stranger.getByText('It was used up, taken back, or is too old')).toBeVisible()
  await stranger.context().close()
})

test('a second factor is asked of a role, set up, shown at the next signing in, and recovered', async ({ page, browser }) => {
  const space = await ownSpace(page)
  const { page: bram, context, email: address } = await comeIn(browser, await invite(page, space), 'Bram Fell')
  await page.request.patch('/api/space', { headers: space.headers, data: { factor_of: ['maker'] } })
  await expect(bram.getByText('asks for a second factor')).toBeVisible({ timeout: 15_000 })
  await bram.getByRole('button', { name: 'Set up codes…' }).click()
  await bram.getByLabel('Your password, once more').fill('wrong password')
  await bram.getByRole('button', { name: 'Go on' }).click()
  await expect(bram.getByRole('alert')).toContainText('The password is wrong')
  await bram.getByLabel('Your password, once more').fill(PASSWORD)
  await bram.getByRole('button', { name: 'Go on' }).click()
  const secret = (await bram.locator('.font-mono').textContent())!
  await bram.getByLabel('The code that it shows now').fill(codeOf(secret))
  await bram.getByRole('button', { name: 'Confirm' }).click()
  const shown = bram.getByRole('region', { name: 'Recovery codes' }).getByRole('listitem')
  await expect(shown).toHaveCount(10)
  const codes = await shown.allTextContents()
  expect(new Set(codes).size).toBe(10)
  await bram.getByRole('button', { name: 'I have kept them' }).click()
  await expect(bram.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  await signOut(bram, 'Bram Fell')
  await signIn(bram, address)
  await bram.getByLabel('Code').fill(codeOf(secret)) // was used to confirm
  await bram.getByRole('button', { name: 'Sign in', exact: true }).click()
  await expect(bram.getByRole('alert')).toContainText('wrong, or was used already')
  await bram.getByLabel('Code').fill(codeOf(secret, 1))
  await bram.getByRole('button', { name: 'Sign in', exact: true }).click()
  await expect(bram.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  for (const [code, let_in] of [
    [codes[3], true],
    [codes[3], false],
  ] as const) {
    if (let_in) await signOut(bram, 'Bram Fell')
    else await context.clearCookies()
    if (!let_in) await bram.reload()
    await signIn(bram, address)
    await bram.getByLabel('Code').fill(code)
    await bram.getByRole('button', { name: 'Sign in', exact: true }).click()
    if (let_in) await expect(bram.getByRole('heading', { name: 'Datasets' })).toBeVisible()
    else await expect(bram.getByRole('alert')).toContainText('wrong, or was used already')
  }
  await context.close()
})

/** A device that holds passkeys, as the browser's own tests have it. */
async function withDevice(context: BrowserContext, page: Page) {
  const session = await context.newCDPSession(page)
  await session.send('WebAuthn.enable')
  await session.send('WebAuthn.addVirtualAuthenticator', {
    options: { protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true, isUserVerified: true },
  })
}

test('a passkey is made, signs in without a password and counts for a second factor, and is taken away', async ({ page, browser }) => {
  const space = await ownSpace(page)
  const named = process.env.LARK_ADDRESS!.replace('127.0.0.1', 'localhost')
  const { page: olwen, context } = await comeIn(browser, await invite(page, space), 'Olwen Pryce', named)
  await withDevice(context, olwen)
  await page.request.patch('/api/space', { headers: space.headers, data: { factor_of: ['maker', 'owner'] } })
  await olwen.goto(`${named}/account`)
  await olwen.getByRole('button', { name: 'Make a passkey…' }).click()
  await olwen.getByLabel('Your password, once more').fill(PASSWORD)
  await olwen.getByRole('button', { name: 'Make it' }).click()
  await expect(olwen.getByText(/Passkey, made with Chrome/)).toBeVisible()
  await signOut(olwen, 'Olwen Pryce')
  await olwen.getByRole('button', { name: 'With a passkey' }).click()
  await expect(olwen.getByRole('heading', { name: 'Datasets' })).toBeVisible() // nothing more is asked
  await olwen.goto(`${named}/account`)
  await expect(olwen.getByText('with a second factor')).toBeVisible()
  await olwen.getByRole('button', { name: 'Take away' }).click()
  await olwen.getByLabel('Your password, once more').fill(PASSWORD)
  await olwen.getByRole('button', { name: 'Take it away' }).click()
  await expect(olwen.getByText('You have no passkey')).toBeVisible()
  await signOut(olwen, 'Olwen Pryce')
  await olwen.getByRole('button', { name: 'With a passkey' }).click()
  await expect(olwen.getByRole('alert')).toContainText('passkey was not')
  await context.close()
})

test('a key is made for a script, shown once, does what it is for and no more, and is taken back', async ({ page, request }) => {
  const space = await ownSpace(page)
  const read = await page.request.post('/api/uploads?name=yields.csv', { headers: space.headers, data: Buffer.from('x,y\n3,4\n5,6\n') })
  const { key } = await read.json()
  const kept = await page.request.post(`/api/uploads/${key}/keep`, { headers: space.headers, data: {} })
  const { id } = await kept.json()
  await page.goto(`${space.address}/people`)
  await page.getByRole('button', { name: 'Make a key…' }).click()
  await page.getByLabel('What uses it').fill('weekly import')
  await page.getByLabel('add rows', { exact: true }).check()
  await page.getByLabel('Which dataset it may add rows to').selectOption('Yields')
  await page.getByRole('button', { name: 'Make the key' }).click()
  const token = await page.getByRole('region', { name: 'The new key' }).locator('code').textContent()
  await page.getByRole('button', { name: 'I have kept it' }).click()
  const row = page.getByRole('row', { name: /weekly import/ })
  await expect(row).toContainText('add rows to Yields')
  await expect(row).toContainText('not yet')
  const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'text/csv' }
  const at = `${process.env.LARK_ADDRESS}/api/v1`
  const sent = await request.put(`${at}/datasets/${id}/rows?how=append&file=a.csv`, { headers, data: 'x,y\n1,2\n' })
  expect((await sent.json()).added).toBe(1)
  expect((await request.post(`${at}/datasets?name=No`, { headers, data: 'x,y\n1,2\n' })).status()).toBe(403)
  await page.reload()
  await expect(row).toContainText('today')
  await expect(page.locator('body')).not.toContainText(token!)
  page.once('dialog', (dialog) => void dialog.accept())
  await page.getByRole('button', { name: 'Take back weekly import' }).click()
  await expect(row).toBeHidden()
  expect((await request.get(at, { headers })).status()).toBe(401)
})

test('a space is taken as a file, brought as another one, deleted in a week, and kept after all', async ({ page }) => {
  const space = await ownSpace(page)
  await page.goto(`${space.address}/people`)
  const coming = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Take it as a file' }).click()
  const file = await (await coming).path()
  await page.goto('/account')
  await page
    .getByLabel('File with a space')
    .setInputFiles({ name: 'space.zip', mimeType: 'application/zip', buffer: Buffer.from('no space') })
  await expect(page.getByRole('alert')).toContainText('The file is no space that this program can read')
  await page.getByLabel('File with a space').setInputFiles(file)
  await expect(page.getByRole('link', { name: 'Rows', exact: true })).toBeVisible()
  expect(new URL(page.url()).pathname).not.toBe(space.address)
  page.on('dialog', (dialog) => void dialog.accept())
  await page.goto(`${space.address}/people`)
  await page.getByRole('button', { name: 'Delete it in a week' }).click()
  await expect(page.getByText('It is deleted')).toBeVisible()
  await page.goto(space.address)
  await expect(page.getByText('with everything in it')).toBeVisible()
  await page.goto(`${space.address}/people`)
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByText('It is deleted')).toBeHidden()
  // The last owner stays.
  await page.getByRole('button', { name: 'Leave it' }).click()
  await expect(page.getByRole('alert')).toContainText('A space needs an owner')
})

test('people of an organisation come in through it, with the role of their group, to where they wanted to be', async ({ browser }) => {
  const context = await browser.newContext({ storageState: undefined })
  const carys = await context.newPage()
  await carys.goto(`${process.env.LARK_ADDRESS}/build`)
  await carys.getByRole('link', { name: 'Through 127.0.0.1' }).click()
  await expect(carys).toHaveURL(/\/in\/1-thornwick-apiaries\/build$/)
  await expect(chart(carys)).toHaveAttribute('data-painted', /\d/)
  const owner = await browser.newContext({ storageState: JSON.parse(process.env.LARK_SESSION!) })
  const people = await (await owner.request.get(`${process.env.LARK_ADDRESS}/api/people`)).json()
  expect(people.find((one: { email: string }) => one.email === 'carys@thornwick.example')).toMatchObject({
    name: 'Carys Penn',
    role: 'maker',
  })
  await context.close()
})

test('a password is changed, other places are signed out, and an owner makes a link to a new one', async ({ page, browser }) => {
  const space = await ownSpace(page)
  const { page: perrin, context, email: address } = await comeIn(browser, await invite(page, space), 'Perrin Oake')
  const elsewhere = await (await browser.newContext({ storageState: undefined })).newPage()
  await elsewhere.goto(process.env.LARK_ADDRESS!)
  await signIn(elsewhere, address)
  await expect(elsewhere.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  await perrin.goto(`${process.env.LARK_ADDRESS}/account`)
  await expect(perrin.getByRole('region', { name: 'Where you are signed in' }).getByRole('listitem')).toHaveCount(2)
  await perrin.getByLabel('The password now').fill(PASSWORD)
  await perrin.getByLabel('The new one').fill('four other hedges')
  await perrin.getByRole('button', { name: 'Change it' }).click()
  await expect(perrin.getByText('You are signed out everywhere else')).toBeVisible()
  await expect(elsewhere.getByLabel('Password', { exact: true })).toBeVisible({ timeout: 15_000 })
  await elsewhere.getByRole('button', { name: 'Forgot the password?' }).click()
  await expect(elsewhere.getByText('This server sends no e-mail')).toBeVisible()
  await page.goto(`${space.address}/people`)
  await page.context().grantPermissions(['clipboard-write', 'clipboard-read'])
  await page.getByRole('row', { name: /Perrin Oake/ }).hover()
  await page.getByRole('button', { name: 'A link to a new password for Perrin Oake' }).click()
  const link = await page.getByTitle(/\/password\//).getAttribute('title')
  await elsewhere.goto(link!)
  await elsewhere.getByLabel('New password').fill('short')
  await elsewhere.getByRole('button', { name: 'Keep it and sign in' }).click()
  await expect(elsewhere.getByRole('alert')).toContainText('The password is too short')
  await elsewhere.getByLabel('New password').fill(PASSWORD)
  await elsewhere.getByRole('button', { name: 'Keep it and sign in' }).click()
  await expect(elsewhere.getByRole('heading', { name: 'Datasets' })).toBeVisible()
  await elsewhere.goto(link!)
  await elsewhere.getByLabel('New password').fill(PASSWORD)
  await elsewhere.getByRole('button', { name: 'Keep it and sign in' }).click()
  await expect(elsewhere.getByRole('alert')).toContainText('used already, or is too old')
  await context.close()
  await elsewhere.context().close()
})
