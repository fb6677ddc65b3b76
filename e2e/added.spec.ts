import { expect, test } from './pages'

test('rows are added below those there are, and one that comes again takes the place of the earlier one', async ({ page }) => {
  await page.goto('/')
  const file = (rows: string) => ({ name: 'weighed.csv', mimeType: 'text/csv', buffer: Buffer.from(`hive,kg\n${rows}`) })
  await page.getByLabel('File with a table').setInputFiles(file('A-1,31.5\nA-2,28.2\nA-3,30.1\n'))
  await page.getByRole('dialog').getByRole('button', { name: 'Keep', exact: true }).click()
  await page.getByRole('button', { name: 'Next version' }).click()
  await page.getByRole('menuitem', { name: /^More rows/ }).click()
  await page.getByLabel('A new file for this dataset').setInputFiles(file('A-3,33.3\nA-4,29.9\nA-4,30\n'))
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('button', { name: 'hive' })).toHaveAttribute('aria-pressed', 'true') // proposed
  await expect(dialog.getByRole('status')).toHaveText(
    'Of 3 rows, 1 row is new and 1 row of the table is replaced, 1 row stood twice in the file (the later one counts): 4 rows in all.',
  )
  await dialog.getByRole('button', { name: 'hive' }).click()
  await expect(dialog.getByRole('status')).toHaveText('Of 3 rows, 3 rows are new: 6 rows in all.')
  await dialog.getByRole('button', { name: 'hive' }).click()
  await dialog.getByRole('button', { name: 'Add them' }).click()
  await expect(page.getByText(/4 rows · 2 columns · version 2/)).toBeVisible()
  await expect(page.getByRole('cell', { name: '33.3' })).toBeVisible()
  await expect(page.getByRole('cell', { name: '30.1' })).toHaveCount(0)
})
