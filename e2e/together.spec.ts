import type { Browser, Page } from '@playwright/test'
import { chart, expect, newcomer, openForage, sentence, test, type } from './pages'

const trail = (page: Page) => page.locator('section[aria-label=Trail]')

/** Somebody new of the demo's space, with the chart open that the first page has open. */
async function other(browser: Browser, page: Page, name: string): Promise<Page> {
  const second = await newcomer(browser, page, name)
  await second.goto(page.url())
  await expect(chart(second)).toHaveAttribute('data-painted', /10\d\d/)
  return second
}

const typed = (page: Page, line: string) => type(page, `plot honey_kg against forage_ha\n${line}`)

test('two in one chart see each other, each other’s steps arrive, and two changes at once are two branches', async ({ page, browser }) => {
  await openForage(page)
  const bram = await other(browser, page, 'Bram Fell')
  await expect(page.getByRole('list', { name: 'Here now' }).getByRole('img', { name: 'Bram Fell' })).toBeVisible()
  await expect(bram.getByRole('list', { name: 'Here now' }).getByRole('img')).toHaveCount(1)
  await Promise.all([typed(page, 'log x\ncolour by district'), typed(bram, 'fit spline')])
  // Both are kept: one's own branch above, the other's below, and nobody is moved.
  for (const one of [page, bram]) await expect(trail(one).getByRole('list', { name: 'Another branch' }).getByRole('button')).toHaveCount(1)
  await expect(sentence(page)).toContainText('coloured by district')
  await expect(sentence(bram)).toContainText('smoothing spline')
  await expect(trail(page)).toContainText('Bram Fell made a step')
  await expect(trail(page).getByRole('list', { name: 'Another branch' })).toContainText('Bram Fell, just now')
  await trail(page).getByRole('button', { name: 'look at it' }).click()
  await expect(sentence(page)).toContainText('smoothing spline')
  await expect(sentence(bram)).toContainText('smoothing spline')
  // Pins are told, and who leaves is gone.
  await trail(page).locator('ol').first().locator('button[draggable=true]').last().hover()
  await trail(page)
    .getByRole('button', { name: /^What can be done/ })
    .last()
    .click()
  await page.getByRole('menuitem', { name: 'Pin it' }).click()
  await expect(trail(bram).getByText('●')).toBeVisible()
  await bram.close()
  await expect(page.getByRole('list', { name: 'Here now' })).toBeHidden()
})

test('without a connection what is done waits and is kept once, and what others did meanwhile comes', async ({ page, browser }) => {
  await openForage(page)
  const ines = await other(browser, page, 'Ines Corrie') // who is cut off
  const steps = (of: Page) => trail(of).locator('button[draggable=true]')
  await ines.context().setOffline(true)
  await expect(trail(ines)).toContainText('No connection')
  await typed(page, 'fit spline')
  await expect(steps(page)).toHaveCount(2)
  await ines.waitForTimeout(1000)
  await ines.context().setOffline(false)
  await expect(steps(ines)).toHaveCount(2, { timeout: 20_000 })
  await expect(trail(ines)).not.toContainText('No connection')
  // A step whose keeping is cut off is tried again, and is kept once.
  let cut = 4
  await ines.route('**/steps', (route) => (cut-- > 0 ? route.abort() : route.continue()))
  await typed(ines, 'log x\ncolour by season')
  await expect(steps(ines)).toHaveCount(3, { timeout: 20_000 })
  expect(cut).toBeLessThan(0)
  await expect(steps(page)).toHaveCount(3)
  await expect(trail(ines)).not.toContainText('not kept')
  await ines.close()
})
