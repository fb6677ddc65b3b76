import { chart, expect, test } from './pages'

const MESSY = `stand;district;kg;price;code
A;Tarn;10,5;2;0
B;Tarn;;3;1
C;Brindle;n/a;2;0
D;Brindle;4;–;1
E;Low Fen;8;1,5;1
E;Low Fen;8;1,5;1
`

async function bring(page: import('@playwright/test').Page, name: string) {
  await page.goto('/')
  await page.getByLabel('File with a table').setInputFiles({ name: `${name}.csv`, mimeType: 'text/csv', buffer: Buffer.from(MESSY) })
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByRole('table', { name: 'Rows' })).toBeVisible()
}

async function table(page: import('@playwright/test').Page) {
  await expect(page.getByRole('cell', { name: '21', exact: true })).toBeVisible()
  return page.getByRole('table', { name: 'Rows' }).innerText()
}

test('a messy file is made tidy by pressing and by typing, to the same table', async ({ page }) => {
  await bring(page, 'pressed')
  const say = async (kind: string, rest: string) => {
    await page.getByRole('button', { name: '+ add' }).click()
    await page.getByRole('button', { name: kind }).click()
    const field = page.getByLabel('New clause')
    await field.fill((await field.inputValue()) + rest)
    await field.press('Enter')
    await expect(field).toBeHidden()
  }
  await say('drop duplicates', '')
  await say('leave out rows missing …', 'kg')
  await say('work out a column', 'income = kg * coalesce(price, 1)')
  await say('keep rows where …', 'income > 1000')
  await expect(page.getByText('−3 rows')).toBeVisible()
  // The last clause took everything away: press it and say it otherwise.
  await page.getByRole('button', { name: 'Keep income > 1000' }).click()
  await page.getByLabel('Clause', { exact: true }).fill('keep income > 5')
  await page.getByRole('button', { name: 'Say it' }).click()
  await say('sort by …', 'income descending')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('2 rows · 6 columns · version 2')).toBeVisible()
  const pressed = await table(page)

  await bring(page, 'typed')
  await page.getByRole('button', { name: 'Type it' }).click()
  const typed = page.getByLabel('The preparation, typed')
  await typed.fill('drop duplicates\nleave out missing kg\nwork out income = kgs * 2\n')
  await expect(page.getByText('no column kgs; did you mean kg?')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Keep as version 2' })).toBeDisabled()
  await typed.fill('drop duplicates\nleave out missing kg\nwork out income = kg * coalesce(price, 1)\nkeep income > 5\nsort by income descending\n')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('2 rows · 6 columns · version 2')).toBeVisible()
  expect(await table(page)).toBe(pressed)
})

test('a chart of an older version says so and moves over', async ({ page }) => {
  await bring(page, 'moved')
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await page.getByRole('button', { name: /Type it/ }).click()
  const typed = page.getByLabel('The sentence, typed')
  await typed.fill('plot kg against price\n')
  await typed.press('Control+Enter')
  await expect(typed).toBeHidden()
  await expect(page.getByRole('region', { name: 'Trail' }).getByRole('listitem').first()).toBeVisible()
  await page.getByRole('link', { name: 'Data', exact: true }).click()
  await page.getByRole('button', { name: 'Type it' }).click()
  await page.getByLabel('The preparation, typed').fill('drop duplicates\n')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('5 rows · 5 columns · version 2')).toBeVisible()
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await expect(chart(page)).toHaveAttribute('data-painted', '3')
  await page.getByRole('button', { name: 'Move it over' }).click()
  await expect(chart(page)).toHaveAttribute('data-painted', '2')
  await expect(page.getByRole('button', { name: 'Move it over' })).toBeHidden()
})

test('several files at once, JSON and a pasted block become datasets one after the other', async ({ page }) => {
  await page.goto('/')
  const records = '{"hive":"A","kg":3}\n{"hive":"B","kg":4.5}\n'
  await page.getByLabel('File with a table').setInputFiles([
    { name: 'first_one.jsonl', mimeType: 'application/json', buffer: Buffer.from(records) },
    { name: 'second_one.csv', mimeType: 'text/csv', buffer: Buffer.from('a,b\n1,2\n') },
  ])
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('2 rows, 2 columns · JSON')).toBeVisible()
  await dialog.getByRole('button', { name: 'Keep' }).click()
  await expect(dialog.getByText('1 rows, 2 columns')).toBeVisible()
  await dialog.getByRole('button', { name: 'Discard' }).click()
  await expect(dialog).toBeHidden()
  await expect(page.getByRole('link', { name: 'First one', exact: true })).toBeVisible()
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text/plain', 'hive\tkg\nA\t1\nB\t2\nC\t3\n')
    document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  })
  await expect(dialog.getByText('3 rows, 2 columns')).toBeVisible()
  await dialog.getByRole('button', { name: 'Keep' }).click()
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'CSV' }).click()
  expect((await download).suggestedFilename()).toBe('Pasted table.csv')
})
