import { expect, openForage, sentence, test } from './pages'

test('columns are looked at two at a time, what turns round is marked, and a pair opens as a chart', async ({ page }) => {
  await openForage(page)
  await page.getByRole('link', { name: 'Pairs', exact: true }).click()
  await expect(sentence(page)).toContainText('Look at 6 columns two at a time, coloured by district')
  const ranked = page.getByRole('region', { name: 'Ranked pairs' })
  const squares = page.getByRole('group', { name: 'Pairs' })
  await expect(squares.getByRole('button')).toHaveCount(15)
  await expect(page.locator('canvas[data-painted]')).toBeVisible()
  const turned = ranked.getByRole('button', { name: /Honey yield and Forage area/ })
  await expect(turned).toContainText('falls overall; rises inside groups of district')
  await expect(turned).toContainText('turns round')
  await expect(
    squares.getByRole('button', { name: /Honey yield and Forage area: r −0.\d+ overall, 0.\d+ inside groups of district, turns round/ }),
  ).toBeVisible()

  await sentence(page).getByRole('button', { name: 'every pair' }).click()
  await page.getByRole('button', { name: 'Honey yield', exact: true }).click()
  await expect(sentence(page)).toContainText('pairs with honey yield')
  await expect(ranked.locator('ol').getByRole('listitem')).toHaveCount(5)
  await sentence(page).getByRole('button', { name: '6 columns' }).click()
  await page.getByRole('checkbox', { name: 'Queen age' }).click()
  await expect(sentence(page)).toContainText('Look at 5 columns')
  await page.keyboard.press('Escape')
  await sentence(page).getByRole('button', { name: 'district' }).click()
  await page.getByRole('button', { name: 'nothing', exact: true }).click()
  await expect(ranked).not.toContainText('inside groups')
  await page.goBack()
  await expect(sentence(page)).toContainText('coloured by district')

  await turned.click()
  await expect(sentence(page)).toContainText('Plot honey yield against forage area on a log scale, coloured by district')
  await expect(page.getByRole('complementary', { name: 'Reading' })).toContainText('District reverses the trend')
})

test('a table without two numbers says so under Pairs', async ({ page }) => {
  const made = await page.request.post('/api/datasets', { data: { name: 'One number', typed: 'make 20 rows\nwork out x = uniform(0, 1)' } })
  expect(made.ok()).toBe(true)
  await page.goto(`/dataset/${(await made.json()).id}/pairs`)
  await expect(page.getByRole('region', { name: 'Ranked pairs' })).toContainText('Pairs need two columns of numbers; One number has one.')
})
