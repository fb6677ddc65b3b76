import { execFileSync, spawn } from 'node:child_process'
import type { Page } from '@playwright/test'
import { chart, expect, reading, test, type } from './pages'

const sql = (statements: string) => execFileSync('psql', [process.env.LARK_E2E_ELSEWHERE!, '-qc', statements])

const tables = (page: Page) => page.getByRole('region', { name: 'Tables that stay elsewhere' })

test('rows of a table that stays in a database are drawn, kept, said to be a sample, and taken anew', async ({ page }) => {
  await page.goto('/')
  await expect(tables(page)).toContainText('about 60,000 rows')
  await expect(tables(page)).toContainText('Flights of foragers, as they came in at the door')
  await expect(tables(page).getByRole('listitem', { name: /wages/ })).toContainText('the program may not read this table')
  await expect(tables(page).getByRole('listitem', { name: /wages/ }).getByRole('button')).toHaveCount(0)
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
  await expect(page.getByText(sample).first()).toBeVisible()
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

test('a table over three servers is charted where it is: from a sample at once, then of all rows, with what was asked', async ({
  page,
}) => {
  await page.goto('/')
  await tables(page).getByRole('button', { name: 'Chart public.door_counts where it is' }).click()
  await expect(page).toHaveURL(/\/chart/)
  await expect(page.getByText('about 90,000 rows, in the database valley')).toBeVisible()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await type(page, 'plot load_mg against distance_m\nlog x\nas hexagons\nfit line for each district and overall')
  const asked = page.getByRole('region', { name: 'What was asked of the database' })
  await expect(asked.getByRole('listitem').filter({ hasText: 'hexagons' }).getByLabel('answered')).toBeVisible({ timeout: 60_000 })
  await expect(page.getByRole('region', { name: 'Chart', exact: true })).toContainText('89,910 of 90,000 rows drawn', { timeout: 60_000 })
  await expect(page.getByRole('group', { name: 'Sample and all rows' })).toBeHidden()
  await expect(reading(page)).toContainText('District reverses the trend.')
  await expect(reading(page).getByText('exact, over all rows').first()).toBeVisible()
  await expect(
    reading(page)
      .getByRole('row', { name: /all districts/ })
      .getByLabel('exact, over all rows'),
  ).toBeVisible()
  await expect(reading(page).getByRole('row', { name: /all districts/ })).toContainText('89,910')
  await asked.getByRole('button', { name: 'The questions as SQL' }).click()
  const dialog = page.getByRole('dialog', { name: 'The questions as SQL' })
  await expect(dialog).toContainText('from "public"."door_counts_0"')
  await expect(dialog).toContainText('the same of 2 parts more')
  await dialog.getByRole('button', { name: 'Close' }).click()

  // What stands beside it asks by a press, each column by itself.
  const others = page.getByRole('region', { name: 'What else could explain it?' })
  await expect(others.getByLabel('from 50,000 rows drawn at random').first()).toBeVisible()
  await others.getByRole('button', { name: /Ask all rows/ }).click()
  await expect(others.getByRole('button', { name: /Ask all rows/ })).toBeHidden({ timeout: 60_000 })
  await expect(others.getByText('Asking all rows')).toBeHidden({ timeout: 60_000 })
  await expect(others.getByRole('listitem').filter({ hasText: 'district' }).getByLabel('exact, over all rows')).toBeVisible()
  await expect(others).toContainText('over 89,910 rows')

  // A close look lists the rows under it, once they are few.
  await chart(page).getByRole('application').focus()
  for (let i = 0; i < 2; i++) await page.keyboard.press('+')
  const list = page.getByRole('button', { name: 'List the rows under this part' })
  await list.click()
  const under = page.getByRole('dialog', { name: 'Rows under this part' })
  await expect(under).toContainText('more than the 1,000 that are listed')
  await under.getByRole('button', { name: 'Close' }).click()
  await chart(page).getByRole('application').focus()
  for (let i = 0; i < 8; i++) await page.keyboard.press('+')
  await list.click()
  await expect(under).toContainText('of all rows, as the database has them now')
  await expect(under.getByRole('columnheader', { name: 'Distance m' })).toBeVisible()
  expect(await under.getByRole('row').count()).toBeGreaterThan(20)
  await under.getByRole('button', { name: 'Close' }).click()

  // Its rows are of the sample, and say so; a condition that cannot be asked says why, and the picture stays.
  await type(page, "of rows where upper(district) = 'TARN'\nplot load_mg against distance_m\nlog x\nfit line")
  await expect(asked).toContainText('a condition with upper in it cannot be asked of the database', {
    timeout: 30_000,
  })
  await expect(page.getByRole('group', { name: 'Sample and all rows' })).toContainText('why all rows do not answer stands beside the chart')
  await type(page, 'plot load_mg against distance_m\nfit line')
  await expect(page.getByText('Dots are of the sample')).toBeVisible({ timeout: 30_000 })
  await page.getByRole('button', { name: 'count all rows' }).click()
  await expect(page.getByRole('region', { name: 'Chart', exact: true })).toContainText('89,910 of 90,000 rows drawn', { timeout: 60_000 })
})

test('what is asked of all rows is stopped by a press, and the servers are idle then', async ({ page }) => {
  await page.goto('/')
  await tables(page).getByRole('button', { name: 'Chart public.door_counts where it is' }).click()
  await expect(page).toHaveURL(/\/chart/)
  const server = process.env.LARK_E2E_ELSEWHERE!.replace('/valley', '/valley_1')
  const locked = spawn('psql', [server, '-qc', 'begin; lock table door_counts; select pg_sleep(120)'])
  try {
    const waiting = () =>
      String(
        execFileSync('psql', [
          server,
          '-Atqc',
          "select count(*) from pg_stat_activity where application_name = 'postgres_fdw' and wait_event_type = 'Lock'",
        ]),
      )
    await expect
      .poll(() =>
        String(
          execFileSync('psql', [server, '-Atqc', "select count(*) from pg_locks where mode = 'AccessExclusiveLock' and granted"]),
        ).trim(),
      )
      .not.toBe('0')
    await type(page, "of rows where hive <> 'hive 7'\nplot load_mg against distance_m\nlog x\nas hexagons")
    const strip = page.getByRole('group', { name: 'Sample and all rows' })
    await expect(strip).toContainText('all rows are asked')
    await expect.poll(() => waiting().trim(), { timeout: 30_000 }).not.toBe('0')
    await strip.getByRole('button', { name: 'stop' }).click()
    await expect(strip.getByRole('button', { name: 'ask all rows' })).toBeVisible()
    await expect.poll(() => waiting().trim(), { timeout: 30_000 }).toBe('0')
    await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
    await expect(
      reading(page)
        .getByText(/from [\d,]+ rows drawn at random/)
        .first(),
    ).toBeVisible()
  } finally {
    locked.kill()
    execFileSync('psql', [
      server,
      '-qc',
      "select pg_terminate_backend(pid) from pg_stat_activity where query like '%pg_sleep(120)%' and pid <> pg_backend_pid()",
    ])
  }
})
