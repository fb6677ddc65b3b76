import { createServer, type RequestListener } from 'node:http'
import { expect, test } from './pages'

const far = new URL(process.env.LARK_E2E_ORIGIN ?? 'http://127.0.0.1:1')
const rows = (head: string, more: number, count = 30) =>
  `${head}\n${Array.from({ length: count }, (_, i) => `h${i},${i + more}`).join('\n')}\n`

test('a file comes again from an address: changed, unchanged, gone, slow, too large, led astray, with other columns', async ({ page }) => {
  let answer: RequestListener = (_, to) => void to.writeHead(500).end()
  let asked: (string | undefined)[] = []
  const server = createServer((request, to) => {
    asked.push(request.headers['if-none-match'])
    answer(request, to)
  })
  await new Promise<void>((listens) => server.listen(Number(far.port), '127.0.0.1', listens))
  try {
    const gives = (text: string, etag: string) => (answer = (_, to) => void to.writeHead(200, { etag }).end(text))
    const name = 'scales far away'
    const read = await (await page.request.post(`/api/uploads?name=${name}.csv`, { data: Buffer.from(rows('hive,kg', 0)) })).json()
    const { id } = await (await page.request.post(`/api/uploads/${read.key}/keep`, { data: { name } })).json()
    await page.goto(`/dataset/${id}/data`)
    await page.getByRole('button', { name: 'Next version …' }).click()
    await page.getByRole('menuitem', { name: 'A file or rows that come again …' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel('An address').fill(`${far.origin}/elsewhere/scales.csv`)
    await dialog.getByRole('button', { name: 'Keep' }).click()
    await expect(dialog).toContainText('did not name this address')
    await expect(dialog.getByLabel('An address')).toHaveValue(`${far.origin}/elsewhere/scales.csv`)
    await dialog.getByLabel('An address').fill(`${far.origin}/open/scales.csv`)
    await dialog.getByRole('button', { name: 'Keep' }).click()
    const runs = dialog.getByRole('region', { name: 'What came of asking' }).getByRole('row')
    let count = 0
    const ask = async (outcome: RegExp | string) => {
      await dialog.getByRole('button', { name: 'Ask now' }).click()
      await expect(runs).toHaveCount(++count, { timeout: 30_000 })
      await expect(runs.first()).toContainText(outcome)
    }
    gives(rows('hive,kg', 0), '"a"')
    await ask('nothing new')
    gives(rows('hive,kg', 5), '"b"')
    await ask('a new version')
    answer = (_, to) => void to.writeHead(304).end()
    asked = []
    await ask('nothing new')
    expect(asked).toEqual(['"b"'])
    answer = (_, to) => void to.writeHead(404).end()
    await ask('404')
    // Slow: it comes all the same, and nothing else waits for it.
    answer = (_, to) => {
      to.writeHead(200, { etag: '"c"' })
      const text = rows('hive,kg', 9)
      to.write(text.slice(0, 50))
      setTimeout(() => to.end(text.slice(50)), 3000)
    }
    await dialog.getByRole('button', { name: 'Ask now' }).click()
    await expect(dialog.getByRole('status')).toContainText('asking')
    expect((await page.request.get('/api/datasets')).status()).toBe(200)
    await expect(runs).toHaveCount(++count, { timeout: 30_000 })
    await expect(runs.first()).toContainText('a new version')
    // 2 GB are not waited for.
    answer = (_, to) => {
      to.writeHead(200, { 'content-length': 2 * 1024 ** 3 })
      to.write('hive,kg\n')
    }
    await ask(/larger than \d+ MB/)
    for (const place of ['http://169.254.169.254/latest', 'http://127.0.0.1:1/open/scales.csv', `${far.origin}/elsewhere/scales.csv`]) {
      answer = (_, to) => void to.writeHead(302, { location: place }).end()
      await ask('failed')
      await expect(runs.first()).not.toContainText('169.254')
    }
    gives(rows('hive,weight', 5), '"d"')
    await ask('columns that are gone: kg')
    await expect(dialog.getByRole('alert')).toContainText('It stopped')
    gives(rows('hive,kg', 5, 10), '"e"')
    await ask(/stopped/)
    await expect(dialog.getByRole('alert')).toContainText('rows')
  } finally {
    server.closeAllConnections()
    server.close()
  }
})
