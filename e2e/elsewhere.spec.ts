import { execFileSync } from 'node:child_process'
import type { Page } from '@playwright/test'
import { chart, expect, reading, test, type } from './pages'

const sql = (statements: string) => execFileSync('psql', [process.env.LARK_E2E_ELSEWHERE!, '-qc', statements])

const tables = (page: Page) => page.getByRole('region', { name: 'Tables that stay elsewhere' })

test('rows of a table that stays in a database are drawn, kept, said to be a sample, and taken anew', async ({ page }) => {
  await page.goto('/')
  await expect(tables(page)).toContainText('about 60,000 rows')
  await expect(tables(page)).toContainText('Flights of foragers, as they came in at the door')
  await expect(tables(page).getByRole('listitem', { name: /wages/ })).toContainText('the program may not read this table')
  await expect(tables(page).getByRole('button')).toHaveCount(1)
  await tables(page).getByRole('button', { name: 'Take rows of public.flights' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByLabel('How many rows')).toHaveValue('60,000')
  await expect(dialog).toContainText('All of them are taken')
  await dialog.getByLabel('How many rows').fill('five thousand')
  await dialog.getByRole('button', { name: 'Take them' }).click()
  await expect(dialog.getByRole('alert')).toContainText('a whole number from 1 to 20,000,000')
  await expect(dialog.getByLabel('How many rows')).toHaveValue('five thousand')
  await dialog.getByLabel('How many rows').fill('5,000')
  await expect(dialog).toContainText('drawn at random')
  await dialog.getByRole('button', { name: 'Take them' }).click()
  await expect(dialog).toContainText('5,000 rows')
  await dialog.getByLabel('Name').fill('Some flights')
  await dialog.getByRole('button', { name: 'Keep', exact: true }).click()
  const sample = 'a sample: 5,000 of about 60,000 rows, drawn at random with seed 42, of public.flights in the database valley'
  await expect(page.getByText(sample)).toBeVisible()
  await page.getByRole('button', { name: 'Next version' }).click()
  await page.getByRole('menuitem', { name: /come again/ }).click()
  await expect(dialog.getByLabel('Rows of a table')).toHaveValue('valley/public.flights')
  await dialog.getByRole('button', { name: 'Ask now' }).click()
  await expect(dialog.getByRole('region', { name: 'What came of asking' })).toContainText('has the same rows')
  sql('update flights set load_mg = load_mg + 1')
  await dialog.getByRole('button', { name: 'Ask now' }).click()
  await expect(dialog.getByRole('region', { name: 'What came of asking' })).toContainText('version 2: 5000 rows')
  await dialog.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('link', { name: 'Chart', exact: true }).click()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await type(page, 'plot load_mg against distance_m\nfit line')
  await expect(reading(page)).toContainText(sample)
})
