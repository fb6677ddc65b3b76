import AxeBuilder from '@axe-core/playwright'
import { card, chart, expect, openForage, say, sentence, state, test } from './pages'

test('the demo warns that the districts reverse the trend', async ({ page }) => {
  await openForage(page)
  const reading = page.getByRole('complementary', { name: 'Reading' })
  await expect(reading).toContainText('Overall, honey yield falls by')
  await expect(reading).toContainText('Inside all five districts it rises')
  await expect(reading).toContainText('District reverses the trend.')
  await expect(reading.getByRole('row')).toHaveCount(7)
})

test('arrow keys try a choice on the chart, Escape leaves all as it was', async ({ page }) => {
  await openForage(page)
  await page.locator('[data-slot=colour]').click()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect(sentence(page)).toContainText('coloured by season')
  await page.keyboard.press('Escape')
  await expect(sentence(page)).toContainText('coloured by district')
  await expect(page.getByRole('region', { name: 'Trail' }).getByRole('listitem')).toHaveCount(1)
})

test('a typed mistake is underlined and explained, and the chart stays', async ({ page }) => {
  await openForage(page)
  await page.getByRole('button', { name: /Type it/ }).click()
  const typed = page.getByLabel('The sentence, typed')
  await typed.fill('plot honey_kgs against forage_ha\ncolour by district\nlog q')
  await expect(page.getByText('no column honey_kgs; did you mean honey_kg?')).toBeVisible()
  await expect(page.getByText('expected x or y')).toBeVisible()
  await expect(page.locator('mark')).toHaveText(['honey_kgs', 'q'])
  await expect(chart(page)).toHaveAttribute('data-painted', '1044')
  await typed.press('Control+Enter')
  await expect(typed).toContainText(/honey_kgs/)
  await typed.press('Escape')
  await expect(sentence(page)).toContainText('Plot honey yield against forage area')
})

test('a chart is named by its sentence, renamed where its name stands, duplicated and found', async ({ page }) => {
  await page.goto('/')
  await page
    .getByRole('row', { name: /Market lots/ })
    .getByRole('link', { name: 'Chart' })
    .click()
  await page.getByRole('button', { name: 'New chart' }).click()
  await expect(page.getByText('The first change you make begins the trail')).toBeVisible()
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot unit_price against quantity\nlog x\n')
  await page.getByLabel('The sentence, typed').press('Control+Enter')
  const place = page.getByRole('navigation', { name: 'Place' })
  await expect(place.getByRole('button')).toHaveText(/ against /)
  await place.getByRole('button').click()
  await place.getByLabel('Name of the chart', { exact: true }).fill('Heavier lots <i>cost</i> more')
  await page.keyboard.press('Enter')
  await expect(place.getByRole('button')).toHaveText('Heavier lots <i>cost</i> more')
  await place.getByRole('link').click()
  await page.getByRole('link', { name: /Heavier lots/ }).hover()
  await page.getByRole('button', { name: 'Duplicate Heavier lots <i>cost</i> more' }).click()
  await expect(page.getByRole('link', { name: /Copy of Heavier lots/ })).toBeVisible()
})

test('pressing an axis opens all that can be said of it, where it was pressed', async ({ page }) => {
  await openForage(page)
  const pressX = async () => {
    const box = (await chart(page).boundingBox())!
    await page.mouse.click(box.x + box.width / 2, box.y + box.height - 14)
  }
  await pressX()
  const form = page.getByRole('dialog')
  await expect(form).toContainText('x, the horizontal axis')
  await form.getByLabel('From').fill('1,000')
  await form.getByRole('button', { name: 'Keep' }).click()
  await expect(form).toContainText('say both ends, or neither')
  await form.getByLabel('To', { exact: true }).fill('3')
  await form.getByLabel('turned round').check()
  await form.getByLabel('Title', { exact: true }).fill("Bees' forage")
  await form.getByLabel('Scale').selectOption('log')
  await form.getByLabel('Ticks').fill('10; 100; 1,000')
  await form.getByLabel('Numbers as').selectOption('decimals')
  await form.getByRole('button', { name: 'Keep' }).click()
  await expect(form).toBeHidden()
  await page.keyboard.press('/')
  const typed = page.getByLabel('The sentence, typed')
  for (const line of ['log x', 'x reversed', "x from 1000 to 3 titled 'Bees'' forage' as 2 decimals", 'ticks x at 10, 100, 1000'])
    await expect(typed).toContainText(line)
  await typed.press('Escape')
  await pressX()
  await form.getByRole('button', { name: 'another column' }).click()
  await expect(page.getByRole('combobox')).toBeVisible()
  await page.waitForTimeout(300) // long enough for anything to close it
  await expect(page.getByRole('combobox')).toBeVisible()
})

test('what could be typed next is proposed, and Tab takes it', async ({ page }) => {
  await openForage(page)
  await page.keyboard.press('/')
  const typed = page.getByLabel('The sentence, typed')
  await typed.fill('plot honey_kg against forage_ha\ncolour by di')
  const proposals = page.getByRole('listbox', { name: 'What could come next' })
  await expect(proposals.getByRole('option')).toHaveText([/district/])
  await typed.press('Tab')
  await expect(typed).toContainText('colour by district')
  await typed.pressSequentially('\nfit line wi')
  await expect(proposals.getByRole('option').first()).toContainText('with band 95%')
  await typed.press('Escape')
})

test('a clause that cannot be honoured is refused with its reason', async ({ page }) => {
  await openForage(page)
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot honey_kg against forage_ha\nshape by apiary\n')
  await expect(page.getByText('shape tells at most 8 groups apart; apiary has more')).toBeVisible()
})

test('the key shows a group alone, and the trail walks back and branches', async ({ page }) => {
  await openForage(page)
  const tarn = page.getByRole('button', { name: 'Tarn' })
  await tarn.click()
  await expect(tarn).toHaveAttribute('aria-pressed', 'true')
  await chart(page).locator('canvas').last().focus()
  await page.keyboard.press('ArrowRight')
  await expect(card(page)).toContainText('Tarn')
  await page.keyboard.press('Escape')
  await expect(tarn).toHaveAttribute('aria-pressed', 'false')

  await say(page, 'scale-x', 'linear')
  await expect(sentence(page)).not.toContainText('log scale')
  const steps = page.getByRole('region', { name: 'Trail' }).getByRole('listitem')
  await expect(steps).toHaveCount(2)
  await page.getByRole('heading', { name: 'Reading' }).click()
  await page.keyboard.press('ArrowLeft')
  await expect(sentence(page)).toContainText('on a log scale')
  await page.locator('[data-slot=shape]').click()
  await page.getByRole('button', { name: 'take out of the sentence' }).click()
  await expect(steps).toHaveCount(3)
  await page.reload()
  await expect(sentence(page)).not.toContainText('shaped by')
  await expect(steps).toHaveCount(3)
})

test('a file that cannot be read says why and leaves nothing', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('link', { name: 'Hive seasons', exact: true })).toBeVisible()
  await page
    .getByLabel('File with a table')
    .setInputFiles({ name: 'broken.csv', mimeType: 'text/csv', buffer: Buffer.from('a,b\n1,"2\n3,4\n') })
  await expect(page.getByRole('alert')).toContainText('Line 2: a double quote is opened and never closed')
  await page
    .getByLabel('File with a table')
    .setInputFiles({ name: 'photo.csv', mimeType: 'text/csv', buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 1, 2, 3]) })
  await expect(page.getByRole('alert')).toContainText('The name ends in .csv, and the file is a picture')
  await page.reload()
  await expect(page.getByRole('link', { name: 'Hive seasons', exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: /^(Broken|Photo)$/ })).toHaveCount(0) // other tests add datasets meanwhile
})

for (const scheme of ['light', 'dark'] as const) {
  test(`main views pass the accessibility check in ${scheme}`, async ({ page }) => {
    test.slow() // the checker walks over every cell
    await page.emulateMedia({ colorScheme: scheme })
    const check = async (where: string) => {
      const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze()
      expect(violations.map((v) => `${where}: ${v.id}: ${v.nodes.map((n) => n.target).join(' ')}`)).toEqual([])
    }
    await page.goto('/')
    await expect(page.getByRole('link', { name: 'Hive seasons', exact: true })).toBeVisible()
    await check('front page')
    await page.getByRole('link', { name: 'Hive seasons', exact: true }).click()
    await expect(page.getByRole('cell').first()).toBeVisible()
    await check('data')
    await page.getByRole('tab', { name: 'Meanings' }).click()
    await expect(page.getByLabel('Unit of honey_kg')).toBeVisible()
    await check('meanings')
    await page.getByRole('tab', { name: 'Rows' }).click()
    await page.getByRole('button', { name: '+ add' }).click()
    await page.getByRole('button', { name: /^keep the rows/ }).click()
    await expect(page.getByRole('option').first()).toBeVisible()
    await check('a clause')
    await openForage(page)
    await check('chart')
    await page.locator('[data-slot=y]').click()
    await expect(page.getByRole('option').first()).toBeVisible()
    await check('a word')
  })
}

test('what nobody named or shared stands under tries, and is kept in one press', async ({ page }) => {
  await state(page, 'plot honey_kg against altitude_m\ncolour by keeper_school')
  await expect(page).toHaveURL(/chart\/\d+$/) // it is kept
  await page.goto('/')
  const tries = page.getByRole('region', { name: 'Tries' })
  await tries.getByRole('button', { name: 'Tries' }).click()
  const name = /Honey yield against altitude/
  const made = tries.getByRole('listitem').filter({ hasText: name }).first()
  await made.hover()
  const before = await tries.getByRole('listitem').filter({ hasText: name }).count()
  await made.getByRole('button', { name: /^Keep / }).click()
  await expect(tries.getByRole('listitem').filter({ hasText: name })).toHaveCount(before - 1)
  await expect(page.getByRole('list').first().getByRole('listitem').filter({ hasText: name }).first()).toBeVisible()
})
