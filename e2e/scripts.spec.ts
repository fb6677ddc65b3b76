import createClient from 'openapi-fetch'
import type { paths } from '../web/src/api/schema.gen'
import { expect, test } from './pages'

/** A key of the demo's owner for all that a key can be for. */
async function aKey(page: import('@playwright/test').Page): Promise<string> {
  const made = await page.request.post('/api/keys', {
    data: { name: `Client ${Math.random()}`, scopes: ['read', 'add rows', 'make', 'share'], days: 1 },
  })
  return (await made.json()).token
}

test('a client that is generated from the description does the whole job', async ({ page }) => {
  const client = createClient<paths>({
    baseUrl: process.env.LARK_ADDRESS,
    headers: { Authorization: `Bearer ${await aKey(page)}` },
  })
  const rows = Array.from({ length: 30 }, (_, i) => `H${i},${i},${2 * i + (i % 3)}`)
  const brought = await client.POST('/api/v1/datasets', {
    params: { query: { name: 'Of a client', file: 'client.csv' } },
    body: ['hive,x,y', ...rows].join('\n'),
    bodySerializer: (body: string) => body,
    headers: { 'Content-Type': 'application/octet-stream' },
  })
  const { dataset, columns } = brought.data!
  expect(columns!.map((column) => column.name)).toEqual(['hive', 'x', 'y'])
  const prepared = await client.POST('/api/v1/versions/{version}/prepared', {
    params: { path: { version: dataset.version_id } },
    body: { typed: 'keep x < 20' },
  })
  const made = await client.POST('/api/v1/charts', { body: { version: prepared.data!.id, typed: 'plot y against x, fit line' } })
  const chart = made.data!.id
  const { data: numbers } = await client.GET('/api/v1/charts/{chart}/numbers', { params: { path: { chart } } })
  expect(numbers!.fits![0].n).toBe(20)
  expect(numbers!.fits![0].terms![1].value).toBeCloseTo(2, 1)
  const shared = await client.POST('/api/v1/charts/{chart}/share', { params: { path: { chart } }, body: {} })
  await page.goto(shared.data!.address)
  await expect(page.getByRole('heading', { name: made.data!.name })).toBeVisible()
  const refused = await client.POST('/api/v1/charts', { body: { version: prepared.data!.id, typed: 'plot nectar against x' } })
  expect(refused.error).toMatchObject({ status: 422, title: expect.stringContaining('nectar') })
})

test('an owner names an address that is called, and sees that one inside is not', async ({ page }) => {
  await page.goto('/people')
  await page.getByRole('button', { name: 'Name an address…' }).click()
  await page.getByLabel('Address', { exact: true }).fill('https://192.168.0.1/told')
  await page.getByRole('button', { name: 'Call it' }).click()
  await expect(page.getByRole('alert')).toContainText('The address leads inside a network')
  await page.getByLabel('Address', { exact: true }).fill('https://other.example/told')
  await page.getByRole('button', { name: 'Call it' }).click()
  await page.getByRole('button', { name: 'I have kept it' }).click()
  const row = page.getByRole('listitem').filter({ hasText: 'https://other.example/told' })
  await expect(row).toContainText('not called yet')
  await row.getByRole('button', { name: /^No longer call/ }).click()
  await expect(row).toBeHidden()
})
