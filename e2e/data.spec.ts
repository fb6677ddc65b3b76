import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { chart, expect, sentence, test } from './pages'

const MESSY = `stand;district;kg;price;code
A;Tarn;10,5;2;0
B;Tarn;;3;1
C;Brindle;n/a;2;0
D;Brindle;4;–;1
E;Low Fen;8;1,5;1
E;Low Fen;8;1,5;1
`

async function bring(page: Page, name: string) {
  await page.goto('/')
  await page.getByLabel('File with a table').setInputFiles({ name: `${name}.csv`, mimeType: 'text/csv', buffer: Buffer.from(MESSY) })
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByRole('table', { name: 'Rows' })).toBeVisible()
}

async function table(page: Page) {
  await expect(page.getByRole('cell', { name: '10.5', exact: true })).toBeVisible()
  return page.getByRole('table', { name: 'Rows' }).innerText()
}

/** Opens a column's menu and takes a choice. */
async function choose(page: Page, column: string, choice: string | RegExp) {
  await page.getByRole('button', { name: `${column}: what can be done with it` }).click()
  await page.getByRole('menuitem', { name: choice }).click()
}

/** Says a clause by pressing: its kind, then words from the list. */
async function press(page: Page, kind: string, ...words: (string | RegExp)[]) {
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByRole('button', { name: kind }).click()
  for (const word of words) await page.getByRole('option', { name: word }).first().click()
  await page.getByRole('button', { name: 'Say it' }).click()
  await expect(page.getByLabel('New clause')).toBeHidden()
}

test('a messy file is made tidy by pressing alone and by typing alone, to the same table', async ({ page }) => {
  await bring(page, 'pressed')
  await press(page, 'drop duplicates')
  await press(page, 'leave out missing', 'kg')
  await expect(page.getByText('−2 rows')).toBeVisible()
  await page.getByRole('button', { name: 'code is read as yes / no' }).click()
  await page.getByRole('menuitem', { name: 'read as category' }).click()
  await page.locator('[data-column="district"] [data-bar="1"]').click()
  await expect(page.getByText('−2 rows')).toHaveCount(2)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('3 rows · 5 columns')).toBeVisible()
  await choose(page, 'kg', 'Sort the table by it')
  // The rows that went are there to be looked at, with what took them.
  await page.getByRole('button', { name: 'only rows left out (3)' }).click()
  await expect(page.getByRole('rowheader', { name: '6 · drop duplicates' })).toBeVisible()
  await expect(page.getByRole('rowheader', { name: '2 · leave out missing kg' })).toBeVisible()
  await page.getByRole('button', { name: 'first rows' }).click()
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('3 rows · 5 columns · version 2')).toBeVisible()
  const pressed = await table(page)

  await bring(page, 'typed')
  await page.getByRole('button', { name: 'Type it' }).click()
  const typed = page.getByLabel('The preparation, typed')
  await typed.fill('drop duplicates\nleave out missing kgs\n')
  await expect(page.getByText('no column kgs; did you mean kg?')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Keep as version 2' })).toBeDisabled()
  await typed.fill('drop duplicates\nleave out missing kg\nread code as category\n')
  await typed.press('Control+End')
  await typed.pressSequentially('sort by k')
  await expect(page.getByRole('option', { name: 'kg' })).toBeVisible()
  await typed.press('Tab')
  await expect(typed).toContainText(/sort by kg$/)
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('3 rows · 5 columns · version 2')).toBeVisible()
  expect(await table(page)).toBe(pressed)
})

test('a clause shows what it would do while it is written, and can be undone', async ({ page }) => {
  await bring(page, 'looked ahead')
  await page.getByRole('button', { name: '+ add' }).click()
  await page.getByLabel('Find a clause').fill('work')
  await page.getByLabel('Find a clause').press('Enter')
  const field = page.getByLabel('New clause')
  await field.pressSequentially('half = kg / ')
  await field.pressSequentially('2')
  await expect(page.getByText('number: 5.25, missing, missing, 2, 4, 4')).toBeVisible()
  await field.fill('work out half = kgs / 2')
  await expect(page.getByText('No column kgs; did you mean kg?')).toBeVisible()
  await field.fill('work out half = kg / 2')
  await field.press('Enter')
  await expect(page.getByText('6 rows · 6 columns')).toBeVisible()
  await page.getByRole('button', { name: 'Clause: work out half = kg / 2' }).click()
  await page.getByRole('button', { name: 'Switch off' }).click()
  await expect(page.getByText('6 rows · 5 columns')).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(page.getByText('6 rows · 6 columns')).toBeVisible()
})

test('rows are found and sorted, and what columns mean stands on the chart', async ({ page }) => {
  await bring(page, 'explained')
  await page.getByLabel('Find a column or value').fill('tarn')
  await expect(page.getByText('2 found')).toBeVisible()
  await page.getByLabel('Find a column or value').fill('')
  await choose(page, 'kg', 'Look at rows from the highest')
  await expect(page.getByRole('row').nth(1)).toContainText('10.5')
  await choose(page, 'kg', 'What it means …')
  await page.getByLabel('kg is said as').fill('Honey yield')
  await page.getByLabel('Unit of kg').fill('kg per stand')
  await page.getByLabel('Unit of kg').press('Enter')
  await page.getByRole('button', { name: 'Name the values of district' }).click()
  await page.getByLabel('Tarn of district stands for').fill('High Tarn')
  await page.getByLabel('Tarn of district stands for').press('Enter')
  await page.getByLabel('Origin').fill('javascript:alert(1)')
  await page.getByLabel('Origin').press('Enter')
  await expect(page.getByRole('alert')).toContainText('An origin does not begin with javascript:')
  await page
    .getByLabel('File with meanings')
    .setInputFiles({ name: 'words.csv', mimeType: 'text/csv', buffer: Buffer.from('price,What a kilogram fetched\nqueen,nobody\n') })
  await expect(page.getByText('1 column was given a meaning. Not a column here: queen.')).toBeVisible()
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await page.getByRole('button', { name: /Type it/ }).click()
  await page.getByLabel('The sentence, typed').fill('plot kg against price\ncolour by district\n')
  await page.getByLabel('The sentence, typed').press('Control+Enter')
  await expect(sentence(page)).toContainText('honey yield')
  await expect(page.getByText('High Tarn').first()).toBeVisible()
})

test('what is no row is told by line, and a stray value can be read otherwise', async ({ page }) => {
  const rows = Array.from({ length: 40 }, (_, i) => `H-${i};${i === 20 ? 'lost' : `2${i % 10},5`};3/${1 + (i % 9)}/2029`).join('\n')
  await page.goto('/')
  await page.getByLabel('File with a table').setInputFiles({
    name: 'check.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`Autumn check;;\nhive;weight;on\n;kg;\n${rows}\n\nSource: the keepers\n`),
  })
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('40 rows, 3 columns')).toBeVisible()
  for (const said of [
    'Line 1: "Autumn check" stands above',
    'Line 3: this row holds the units',
    'Line 24, weight: "lost" is not a number',
    'Line 45: "Source: the keepers" stands under',
    'the day was taken to come first',
  ])
    await expect(dialog.getByText(said)).toBeVisible()
  await expect(dialog.getByText('number · kg')).toBeVisible()
  await dialog.getByRole('button', { name: 'the month comes first' }).click()
  await expect(dialog.getByRole('cell', { name: '2029-03-05' }).first()).toBeVisible()
  await dialog.getByRole('button', { name: 'keep as text' }).click()
  await expect(dialog.getByText('number · kg')).toBeHidden()
  await expect(dialog.getByRole('button', { name: 'the day comes first' })).toBeVisible() // what was said before still holds
  await dialog.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByText('40 rows · 3 columns')).toBeVisible()
})

test('a workbook shows its sheets, a dataset is joined, and a table is made from nothing', async ({ page }) => {
  await page.goto('/')
  await page.getByLabel('File with a table').setInputFiles('../testdata/files/openpyxl.xlsx')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('4 rows, 6 columns · workbook')).toBeVisible()
  await dialog.getByLabel('Sheet').selectOption('Prices')
  await expect(dialog.getByText('2 rows, 2 columns')).toBeVisible()
  await dialog.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('2 rows · 2 columns')).toBeVisible()
  await page.goto('/')
  await page.getByLabel('File with a table').setInputFiles({ name: 'wrong.xlsx', mimeType: 'text/csv', buffer: Buffer.from('a,b\n1,2\n') })
  await expect(page.getByRole('alert')).toContainText('The name ends in .xlsx, and the file is a text')
  await page.getByRole('button', { name: 'Make a table…' }).click()
  await page.getByRole('menuitem', { name: 'Rows of chance' }).click()
  await expect(page.getByText('200 rows · 3 columns · version 2')).toBeVisible()
  await page.getByRole('button', { name: 'Type it' }).click()
  const typed = page.getByLabel('The preparation, typed')
  await typed.fill('make 4 rows\nwork out season = 2028 + row\n')
  await expect(page.getByText('4 rows · 2 columns')).toBeVisible()
  await page.getByRole('button', { name: 'Back to the sentence' }).click()
  await press(page, 'join the columns', /^prices/, 'by', 'season')
  await expect(page.getByText('4 rows · 3 columns')).toBeVisible()
  await expect(sentence(page).getByText('2 of 4 rows matched; 0 of 2 rows of prices not used')).toBeVisible()
  // Longer than any element can be high: the last row is still the last.
  await page.getByRole('button', { name: 'Type it' }).click()
  await typed.fill('make 1200000 rows\n')
  await expect(page.getByText('1,200,000 rows · 1 column')).toBeVisible()
  await page.getByRole('button', { name: 'last rows' }).click()
  await expect(page.getByRole('cell', { name: '1,200,000', exact: true })).toBeInViewport()
})

/** Keeps a chart of the dataset, and goes back to Data. */
async function plotKg(page: Page) {
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await page.getByRole('button', { name: /Type it/ }).click()
  const typed = page.getByLabel('The sentence, typed')
  await typed.fill('plot kg against price\n')
  await typed.press('Control+Enter')
  await expect(typed).toBeHidden()
  await expect(page.getByRole('region', { name: 'Trail' }).getByRole('listitem').first()).toBeVisible()
  await page.getByRole('link', { name: 'Data', exact: true }).click()
}

test('a chart of an older version says so and moves over', async ({ page }) => {
  await bring(page, 'moved')
  await plotKg(page)
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
  await expect(dialog.getByText('1 row, 2 columns')).toBeVisible()
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
  await page.getByRole('button', { name: 'Download' }).click()
  await page.getByRole('menuitem', { name: 'CSV' }).click()
  expect((await download).suggestedFilename()).toBe('Pasted table.csv')
})

test('the Data view is walked with the keyboard alone', async ({ page }) => {
  await bring(page, 'keyboard')
  await page.getByRole('button', { name: 'kg: what can be done with it' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('menuitem').first()).toBeFocused()
  for (const choice of ['Look at rows from the highest', 'Keep rows where it is …', 'Leave out rows that miss it']) {
    await page.keyboard.press('ArrowDown')
    await expect(page.getByRole('menuitem', { name: choice })).toBeFocused()
  }
  await page.keyboard.press('Enter')
  await expect(page.getByText('4 rows · 5 columns')).toBeVisible()
  await page.getByRole('button', { name: 'Clause: leave out missing kg' }).focus()
  await page.keyboard.press('Enter')
  const field = page.getByLabel('Clause', { exact: true })
  await expect(field).toBeFocused()
  await field.press('End')
  await field.pressSequentially(', pr')
  await expect(page.getByRole('option').first()).toBeVisible()
  await field.press('ArrowDown')
  await field.press('Enter')
  await expect(field).toHaveText('leave out missing kg, price')
  await field.press('Enter')
  await expect(page.getByText('3 rows · 5 columns')).toBeVisible()
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect(page.getByText('6 rows · 5 columns')).toBeVisible()
})

test('what is on its way can be stopped, and hostile names stay names', async ({ page }) => {
  await page.goto('/')
  const large = Buffer.from('a,b\n' + '1,2\n'.repeat(6_000_000))
  await page.getByLabel('File with a table').setInputFiles({ name: 'large.csv', mimeType: 'text/csv', buffer: large })
  await page.getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByRole('alert')).toContainText('The upload was stopped. Nothing of the file was kept.')
  const hostile = 'kg,"<img src=x onerror=alert(1)>","a ""b"" ; drop table",=1+1\n1,<script>alert(2)</script>,x,2\n2,"\'; --",y,3\n'
  await page
    .getByLabel('File with a table')
    .setInputFiles({ name: '"><script>alert(3)</script>.csv', mimeType: 'text/csv', buffer: Buffer.from(hostile) })
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('2 rows · 4 columns')).toBeVisible()
  await expect(page.getByRole('cell', { name: '<script>alert(2)</script>' })).toBeVisible()
  await page.locator('[data-column="<img src=x onerror=alert(1)>"] [data-bar="0"]').click()
  await expect(page.getByText('1 row · 4 columns')).toBeVisible()
  await choose(page, 'A "b" ; drop table', 'Sort the table by it')
  await expect(page.getByRole('button', { name: 'Clause: sort by "a ""b"" ; drop table"' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Keep as version 2' })).toBeEnabled()
})

test('what is tried stays as a draft until it is kept or left, wherever one goes meanwhile', async ({ page }) => {
  await bring(page, 'draft')
  await choose(page, 'kg', 'Sort the table by it')
  await expect(page.getByText('What you see is your draft')).toBeVisible()
  await page.getByRole('link', { name: 'Pairs' }).click() // at once: leaving the view keeps it
  await page.getByRole('link', { name: 'Data' }).click()
  await expect(page.getByRole('button', { name: 'Clause: sort by kg' })).toBeVisible()
  await press(page, 'drop duplicates')
  await page.waitForResponse((r) => r.url().endsWith('/draft') && r.request().method() === 'PUT')
  await page.reload()
  await expect(page.getByRole('button', { name: 'Clause: drop duplicates' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click() // back to what was kept: the draft is one change
  await expect(page.getByText('What you see is your draft')).toBeHidden()
  await page.getByRole('button', { name: 'Redo' }).click()
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('5 rows · 5 columns · version 2')).toBeVisible()
  await page.reload()
  await expect(page.getByText('5 rows · 5 columns · version 2')).toBeVisible()
  await expect(page.getByText('What you see is your draft')).toBeHidden()
})

test('a new file is compared before it is kept, prepared as the last one was, and a chart moves to columns called otherwise', async ({
  page,
}) => {
  await bring(page, 'renewed')
  await choose(page, 'kg', 'Sort the table by it')
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  await expect(page.getByText('6 rows · 5 columns · version 2')).toBeVisible()
  await plotKg(page)
  const renew = (content: string) =>
    page.getByLabel('A new file for this dataset').setInputFiles({ name: 'next.csv', mimeType: 'text/csv', buffer: Buffer.from(content) })
  await renew(MESSY.replace('A;Tarn;10,5;2;0', 'A;Tarn;11,5;2;0') + 'F;Ashcombe;7;2;0\n')
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('7 rows, 1 more: 5 as before, 2 new or changed, 1 no longer there')
  await expect(dialog).toContainText('1 clause made again: 7 rows')
  await dialog.getByRole('button', { name: 'Leave it' }).click()
  await expect(page.getByText('6 rows · 5 columns · version 2')).toBeVisible()
  await renew('stand;kilos;price\nA;10,5;2\nB;8;3\n')
  await expect(dialog).toContainText('does not suit the new file: no column kg')
  await expect(dialog).toContainText('Columns gonedistrict, kg, code')
  await dialog.getByRole('button', { name: 'Keep as version 3' }).click()
  await expect(page.getByText('What you see is your draft')).toBeVisible() // what has to be mended
  await page.getByRole('button', { name: 'Leave as it was' }).click()
  await expect(page.getByText('2 rows · 3 columns · version 3')).toBeVisible()
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await page.getByRole('button', { name: 'Move it over' }).click()
  await page.getByLabel('kg is now').selectOption('kilos')
  await page.getByRole('button', { name: 'Move it over' }).click()
  await expect(sentence(page)).toContainText('Plot kilos against price')
})

test('a small table is typed into, and more columns are pasted beside it', async ({ page }) => {
  await bring(page, 'By hand')
  const next = page.getByRole('button', { name: 'Next version' })
  await next.click()
  await page.getByRole('menuitem', { name: 'Type into its cells' }).click()
  const cell = page.getByRole('textbox', { name: /, row 1$/ }).first()
  const before = await cell.inputValue()
  await cell.fill('Low Fen by hand')
  await expect(page.getByText('1 cell changed, not kept yet.')).toBeVisible()
  await page.getByRole('button', { name: 'Keep as version 2' }).click()
  const rows = page.getByRole('table', { name: 'Rows' })
  await expect(rows.getByText('Low Fen by hand')).toBeVisible()
  await expect(rows.getByText(before, { exact: true })).toHaveCount(0)
  const count = Number((await rows.getAttribute('aria-rowcount'))!) - 1
  const paste = async (columns: string) => {
    await next.click()
    await page.getByRole('menuitem', { name: 'More columns' }).click()
    await page.getByRole('dialog').getByRole('textbox').fill(columns)
    await page.getByRole('button', { name: 'Put beside the table' }).click()
  }
  await paste('mites\n1')
  await expect(page.getByRole('dialog')).toContainText(`the table ${count}`) // and what was pasted stays
  await page.getByRole('button', { name: 'Leave it' }).click()
  await paste(['mites', ...Array.from({ length: count }, (_, i) => 40 + i)].join('\n'))
  await expect(rows.getByRole('columnheader').last()).toContainText('Mites')
  await expect(rows.getByText('41', { exact: true })).toBeVisible()
})

test('a file comes again from a folder: as a version, not where nothing changed, and not where columns went', async ({ page }) => {
  const name = `scales-${Math.floor(Math.random() * 1e9)}.csv`
  const at = join(process.env.LARK_E2E_FOLDER!, name)
  const rows = (head: string, more: number) => `${head}\n${Array.from({ length: 30 }, (_, i) => `h${i},${i + more}`).join('\n')}\n`
  writeFileSync(at, rows('hive,kg', 0))
  const read = await (await page.request.post(`/api/uploads?name=${name}`, { data: Buffer.from(rows('hive,kg', 0)) })).json()
  const { id } = await (await page.request.post(`/api/uploads/${read.key}/keep`, { data: { name } })).json()
  await page.goto(`/dataset/${id}/data`)
  await page.getByRole('button', { name: 'Next version …' }).click()
  await page.getByRole('menuitem', { name: 'A file or rows that come again …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('A file', { exact: true }).selectOption(`harvest/${name}`)
  await dialog.getByRole('button', { name: 'Keep' }).click()
  await dialog.getByRole('button', { name: 'Ask now' }).click()
  const runs = dialog.getByRole('row')
  await expect(runs).toHaveCount(1)
  await expect(runs.first()).toContainText('nothing new')
  writeFileSync(at, rows('hive,kg', 5))
  await dialog.getByRole('button', { name: 'Ask now' }).click()
  await expect(runs.first()).toContainText('a new version')
  writeFileSync(at, rows('hive,weight', 5))
  await dialog.getByRole('button', { name: 'Ask now' }).click()
  await expect(dialog.getByRole('alert')).toContainText('It stopped: columns that are gone: kg; columns that came: weight')
  await dialog.getByRole('button', { name: 'take it nevertheless' }).click()
  await expect(runs.first()).toContainText('version 3')
  await expect(dialog.getByRole('alert')).toBeHidden()
  await dialog.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('button', { name: 'Look at it' }).click()
  await expect(page.getByText('version 3', { exact: false }).first()).toBeVisible()
})
