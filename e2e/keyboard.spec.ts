import type { Page } from '@playwright/test'
import { chart, expect, sentence, test } from './pages'

/** What has the focus, and that it is not lost. */
async function held(page: Page, after: string) {
  await expect
    .poll(() => page.evaluate(() => document.activeElement !== null && document.activeElement !== document.body), {
      message: `the focus is in the page after ${after}`,
    })
    .toBe(true)
}

/** Goes to something by the tab key alone, from where the focus is. */
async function tabTo(page: Page, name: RegExp, role = /.*/, back = false) {
  for (let i = 0; i < 900; i++) {
    const at = await page.evaluate(() => {
      const element = document.activeElement as HTMLElement
      return {
        name: element.getAttribute('aria-label') ?? element.innerText ?? '',
        role: element.getAttribute('role') ?? element.tagName.toLowerCase(),
      }
    })
    if (name.test(at.name.trim()) && role.test(at.role)) return
    await page.keyboard.press(back ? 'Shift+Tab' : 'Tab')
  }
  throw new Error(`the tab key does not come to ${name}`)
}

const enter = async (page: Page, after: string) => {
  await page.keyboard.press('Enter')
  await held(page, after)
}

test('the whole job is done by keyboard, and the focus is never lost', async ({ page }) => {
  test.slow()
  await page.goto('/')
  await expect(page.getByRole('link', { name: 'Hive seasons', exact: true })).toBeVisible()
  await tabTo(page, /^Hive seasons$/)
  await enter(page, 'opening a dataset')
  await expect(page.getByRole('table', { name: 'Rows' })).toBeVisible()
  await held(page, 'the data are there')
  await page.goto(page.url().replace(/data$/, 'chart?new=by-keys'))
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await held(page, 'opening a chart')
  await expect(page.getByRole('region', { name: 'Sentence' })).toBeFocused()

  // the sentence, typed
  await page.keyboard.press('/')
  await page
    .getByLabel('The sentence, typed')
    .fill('plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall')
  await page.keyboard.press('Control+Enter')
  await expect(sentence(page)).toContainText('coloured by district')
  await held(page, 'a typed sentence is kept')
  await expect(page.locator('#announced')).toContainText('rows drawn')

  // a word, and what more can be said
  await page.locator('[data-slot=y]').focus()
  await enter(page, 'a word opens')
  await page.keyboard.press('Escape')
  await held(page, 'a word closes')
  await tabTo(page, /^\+ add$/)
  await enter(page, 'what more can be said opens')
  await page.keyboard.press('Escape')
  await held(page, 'it closes')

  // the key
  const low = page.getByRole('button', { name: 'Low Fen', exact: true })
  await low.focus()
  await enter(page, 'a group is shown alone')
  await expect(low).toHaveAttribute('aria-pressed', 'true')
  await expect(low).toBeFocused()
  await expect(page.locator('.lark-spoken')).toHaveText('Low Fen alone')
  await enter(page, 'all groups are shown')
  await page.keyboard.press('Alt+ArrowRight')
  await expect(sentence(page)).toContainText(/key in the order/i)
  await held(page, 'an entry of the key moves')

  // evidence, and whether it holds
  const finding = page.getByRole('button', { name: /^district: / })
  await finding.focus()
  await enter(page, 'evidence opens')
  await expect(page.getByRole('complementary', { name: 'Evidence' })).toBeFocused()
  await tabTo(page, /^Take it out$/)
  await enter(page, 'a column is taken out')
  await expect(page.getByRole('button', { name: 'Taken out' })).toBeFocused()
  await enter(page, 'it is put back')
  await expect(page.getByRole('button', { name: 'Take it out' })).toBeFocused()
  await tabTo(page, /^Reading$/, /button/, true)
  await enter(page, 'evidence is left')
  await expect(finding).toBeFocused()
  await tabTo(page, /^Does it hold/)
  await enter(page, 'it is looked at in other ways')
  await expect(page.getByRole('complementary', { name: 'Does it hold?' })).toBeFocused()
  await tabTo(page, /^Reading$/, /button/)
  await enter(page, 'that is left')

  // its name, and a share
  const name = page.getByRole('button', { name: /^Name of the chart/ })
  await name.focus()
  await enter(page, 'renaming begins')
  await page.keyboard.type('By keys alone')
  await enter(page, 'the chart is renamed')
  await expect(name).toBeFocused()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(name).toBeFocused()
  const share = page.getByRole('button', { name: 'Share…' })
  await share.focus()
  await enter(page, 'sharing opens')
  await expect(page.getByRole('dialog')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(share).toBeFocused()
  const values = page.getByRole('button', { name: 'Table of values' })
  await values.focus()
  await enter(page, 'the values open')
  await expect(page.getByRole('dialog').getByRole('row').nth(3)).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(values).toBeFocused()
})

test('the chart is walked, moved, kept from and chosen from by keys, and says what it does', async ({ page }) => {
  const datasets = await (await page.request.get('/api/datasets')).json()
  const id = datasets.find((d: { name: string }) => d.name === 'Hive seasons').id
  await page.goto(`/dataset/${id}/chart?new=walked`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot honey_kg against forage_ha\nlog x\nfit line with band 95%')
  await page.keyboard.press('Control+Enter')
  await expect(sentence(page)).toContainText('Fit a straight line')
  await expect(page.getByLabel('The sentence, typed')).toBeHidden()
  await expect(page.getByRole('region', { name: 'Sentence' })).toBeFocused() // the hand goes on there
  const surface = page.getByRole('application')
  await expect(surface).toHaveAttribute('aria-roledescription', 'chart')
  await surface.focus()
  const said = page.locator('.lark-spoken')
  await page.keyboard.press('Home')
  await expect(said).toContainText('Forage')
  const first = await said.textContent()
  await page.keyboard.press('ArrowRight')
  await expect(said).not.toHaveText(first!)
  for (let i = 0; i < 4; i++) await page.keyboard.press('+') // about the mark
  await expect(said).toContainText(/^Seen: Forage area from/)
  await page.keyboard.press('End') // far outside of what is seen: it moves there
  await expect(said).toContainText('Forage')
  await expect(page.locator('.lark-card').first()).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(said).toContainText(/^Kept\./)
  await expect(page.getByRole('group', { name: /^Pinned/ })).toBeVisible()
  await page.keyboard.press('0')
  await expect(said).toHaveText('All of the chart')
  await page.keyboard.press('PageDown')
  await expect(said).toContainText(/^fits: /)
  await page.keyboard.press('PageUp')
  await page.keyboard.press('Home')
  await page.keyboard.press('b')
  await expect(said).toContainText('One corner is here')
  for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('b')
  await expect(said).toContainText(/\d rows? chosen/)

  // switched off, letters and signs do nothing
  await page.getByRole('button', { name: /: menu$/ }).click()
  await page.getByRole('menuitemcheckbox', { name: /^Single keys/ }).click()
  await page.keyboard.press('Escape')
  await surface.focus()
  await page.keyboard.press('a')
  await page.waitForTimeout(200)
  await expect(said).not.toContainText(/[1-9]\d\d rows chosen/)
  await page.getByRole('region', { name: 'Sentence' }).focus()
  await page.keyboard.press('/')
  await expect(page.getByLabel('The sentence, typed')).toBeHidden()
})

test('sentence, chart, reading and trail are told as they are', async ({ page }) => {
  const datasets = await (await page.request.get('/api/datasets')).json()
  const id = datasets.find((d: { name: string }) => d.name === 'Hive seasons').id
  await page.goto(`/dataset/${id}/chart?new=told`)
  await expect(chart(page)).toHaveAttribute('data-painted', /\d/)
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill('plot honey_kg against forage_ha\nlog x\ncolour by district')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('region', { name: 'Trail' }).getByRole('listitem')).toHaveCount(2)
  await expect(page.getByRole('region', { name: 'Sentence' })).toMatchAriaSnapshot(`
    - region "Sentence":
      - paragraph:
        - text: Plot
        - button "honey yield"
        - text: against
        - button "forage area"
        - text: on a
        - button "log scale"
        - text: ", coloured by"
        - button "district"
        - button "+ add"
  `)
  await expect(page.getByRole('region', { name: 'Chart' })).toMatchAriaSnapshot(`
    - application /Overall, honey yield falls/
    - 'group "Key: District"':
      - button "District"
      - button "Ashcombe"
  `)
  await expect(page.getByRole('complementary', { name: 'Reading' })).toMatchAriaSnapshot(`
    - complementary "Reading":
      - heading "Reading" [level=2]
      - text: Overall, honey yield
      - 'region "What else could explain it?"':
        - heading "What else could explain it?" [level=3]
        - list:
          - listitem:
            - 'button "district: reverses. What stands behind it"'
  `)
  await expect(page.getByRole('region', { name: 'Trail' })).toMatchAriaSnapshot(`
    - heading "Trail" [level=2]
    - list:
      - listitem:
        - button /first look/
      - listitem:
        - button /colour/
  `)
})
