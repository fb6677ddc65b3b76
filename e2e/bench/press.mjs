// Measures, in headless Chromium against the real program, how long it takes from pressing a
// choice of a word to the new picture, the painting of dots aside, and until the small
// picture of the new step stands in the trail. Prints rows of docs/benchmarks.md.
import { spawn } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { chromium } from '../../web/node_modules/@playwright/test/index.mjs'

import { pointed, repaint, zoomed } from './paint.mjs'

const folder = mkdtempSync(join(tmpdir(), 'lark-press-'))
chmodSync(folder, 0o755)
const program = spawn(fileURLToPath(new URL('../../bin/lark', import.meta.url)), ['start', '--data', join(folder, 'data'), '--port', '0'], {
  stdio: ['ignore', 'pipe', 'ignore'],
})
const line = await new Promise((said) => program.stdout.once('data', (text) => said(String(text))))
const link = line.match(/http:\S+/)[0]
const browser = await chromium.launch({
  executablePath: process.env.LARK_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto(link)
await page.getByRole('button', { name: 'Sign in' }).click()
await page
  .getByRole('link', { name: /Hive seasons/ })
  .first()
  .waitFor()

const p95 = (times) => times.sort((a, b) => a - b)[Math.ceil(times.length * 0.95) - 1]
/** Words of the sentence and what is pressed in their lists, one after the other. */
const SENTENCE = 'plot y against x\ncolour by g\nfit line for each g and overall with band 95%'
const DOTS = 'plot y against x\nlog x\ncolour by g\nsize by s\nopacity 0.5'
const PRESSES = [
  ['x', 's'],
  ['x', 'x'],
  ['colour', 'h'],
  ['colour', 's'],
  ['colour', 'g'],
  ['y', 's'],
  ['y', 'y'],
]

const datasets = {}

/** A table that is made from nothing. */
async function datasetOf(rows) {
  const made = await page.request.post(new URL('/api/datasets', link).href, {
    data: {
      name: `Rows ${rows}`,
      typed: `make ${rows} rows\nwork out x = exp(normal(0, 1))\nwork out y = 3 * ln(x) + normal(0, 1)\nwork out s = uniform(1, 9)\nwork out g = case when uniform(0, 1) < 0.3 then 'a' when x > 1 then 'b' else 'c' end\nwork out h = case when y > 0 then 'up' else 'down' end\nwork out n = row_number()`,
    },
  })
  const dataset = await made.json()
  if (!dataset.version_id) throw new Error(JSON.stringify(dataset))
  return dataset
}

/** Types a sentence into the chart that is open. */
async function typeInto(page, typed) {
  await page.keyboard.press('/')
  await page.getByLabel('The sentence, typed').fill(typed)
  await page.keyboard.press('Control+Enter')
  await page.getByLabel('The sentence, typed').waitFor({ state: 'hidden', timeout: 120_000 })
}

for (const [rows, rounds, targets] of [
  [100_000, 4, [60, 100]],
  [1_000_000, 2, [250, 400]],
]) {
  const dataset = (datasets[rows] = await datasetOf(rows))
  await page.goto(`${new URL(link).origin}/dataset/${dataset.id}/chart?new=1`)
  const type = (typed) => typeInto(page, typed)
  await page.locator('.lark-chart[data-painted]').waitFor({ timeout: 60_000 })
  await type(SENTENCE)
  const rest = rows > 500_000 ? 4000 : 1200 // what follows a picture (its reading, what else could explain it) is done
  await page.waitForTimeout(rest)
  const [pictures, trails] = [[], []]
  for (let round = 0; round < rounds; round++)
    for (const [slot, choice] of PRESSES) {
      const before = await page.locator('section[aria-label=Trail] li').count()
      await page.locator(`[data-slot=${slot}]`).first().click()
      await page.getByRole('option').filter({ hasText: choice }).first().waitFor()
      await page.waitForTimeout(rest)
      const took = await page.evaluate(
        ([choice, before]) =>
          new Promise((done) => {
            const host = document.querySelector('.lark-chart')
            let picture = 0
            let painting = 0
            const pressed = performance.now()
            new MutationObserver((_, watch) => {
              watch.disconnect()
              painting = Number(host.dataset.paintMs)
              picture = performance.now() - pressed - painting
            }).observe(host, { attributes: true, attributeFilter: ['data-paints'] })
            const look = () => {
              const list = document.querySelectorAll('section[aria-label=Trail] li img')
              if (picture && list.length > before && list[list.length - 1].complete) done([picture, performance.now() - pressed - painting])
              else setTimeout(look, 2)
            }
            ;[...document.querySelectorAll('[role=option]')]
              .find((o) =>
                o.textContent
                  .replace(/^(number|category|date)\s*/i, '')
                  .trim()
                  .toLowerCase()
                  .startsWith(choice),
              )
              .click()
            look()
          }),
        [choice, before],
      )
      if (process.env.LARK_EACH) console.error(rows, slot, choice, took.map((t) => t.toFixed(0)).join(' '))
      pictures.push(took[0])
      trails.push(took[1])
    }
  console.log(
    `| from pressing to the new picture at ${rows.toLocaleString('en')} rows, the painting of dots aside: p95 of ${pictures.length} | ${p95(pictures).toFixed(1)} ms |  | ${targets[0]} ms |`,
  )
  console.log(`| the same until the small picture of the step stands in the trail | ${p95(trails).toFixed(1)} ms |  | ${targets[1]} ms |`)
  await type(DOTS)
  await page.waitForTimeout(rest)
  const [ours, arcs] = await repaint(page, rows > 500_000 ? 3 : 5)
  const [latest, frames, sharp] = await zoomed(page)
  const few = rows <= 100_000
  console.log(`| baseline: one arc() and fill() a dot, ${rows.toLocaleString('en')} dots of 3 to 11 px | ${arcs.toFixed(0)} ms |  |  |`)
  console.log(
    `| the chart of as many dots painted anew, every pixel | ${ours.toFixed(1)} ms | ${(arcs / ours).toFixed(0)} times faster | ${few ? '20 ms, 25' : '120 ms, 40'} times |`,
  )
  console.log(`| while zooming, the latest of ${frames} frames, thrice | ${latest.toFixed(0)} ms |  | ${few ? 17 : 45} ms |`)
  console.log(`| from the hand's rest to the sharp picture | ${sharp.toFixed(0)} ms |  | 120 ms |`)
  const [card, cards] = await pointed(page)
  console.log(`| from pointing at a dot to its card, p95 of ${cards} | ${card.toFixed(1)} ms |  | 8 ms |`)
}

// The painter alone, at other sizes and on a finer screen.
const PAINTED = { 10_000: [8, 25], 100_000: [20, 70], 1_000_000: [120, 450], 5_000_000: [250, 1200] }
const MOVING = { 10_000: 17, 100_000: 17, 1_000_000: 45, 5_000_000: 100 }
const state = await page.context().storageState()
for (const [rows, ratio] of [
  [10_000, 1],
  [10_000, 2],
  [100_000, 2],
  [1_000_000, 2],
  [5_000_000, 1],
  [5_000_000, 2],
]) {
  const fine = await browser.newPage({ viewport: { width: 1280, height: 800 }, deviceScaleFactor: ratio, storageState: state })
  datasets[rows] ??= await datasetOf(rows)
  await fine.goto(`${new URL(link).origin}/dataset/${datasets[rows].id}/chart?new=1`)
  await fine.locator('.lark-chart[data-painted]').waitFor({ timeout: 120_000 })
  await typeInto(fine, DOTS)
  await fine.waitForTimeout(rows > 500_000 ? 6000 : 1200)
  const [ours] = await repaint(fine, 3, false)
  const [latest, frames] = await zoomed(fine)
  console.log(
    `| ${rows.toLocaleString('en')} dots painted anew, at ${ratio} pixel${ratio > 1 ? 's' : ''} a pixel | ${ours.toFixed(1)} ms |  | ${PAINTED[rows][ratio - 1]} ms |`,
  )
  console.log(
    `| while zooming, the latest of ${frames} frames, thrice | ${latest.toFixed(0)} ms |  | ${ratio > 1 ? 'none is set' : `${MOVING[rows]} ms`} |`,
  )
  await fine.close()
}

// Every other primitive, at some 100,000 vertices.
datasets[100_000] ??= await datasetOf(100_000)
for (const [name, typed] of [
  ['lines', 'plot y against n\nas line'],
  ['areas', 'plot y against n\nas area'],
  ['steps', 'plot y against n\nas steps'],
  ['stems', 'plot y against n\nas stems'],
  ['contours', 'plot y against x\nas contours\nlog x\ncolour by g'],
]) {
  const one = await browser.newPage({ viewport: { width: 1280, height: 800 }, storageState: state })
  await one.goto(`${new URL(link).origin}/dataset/${datasets[100_000].id}/chart?new=1`)
  await one.locator('.lark-chart[data-painted]').waitFor({ timeout: 120_000 })
  await typeInto(one, typed)
  await one.waitForTimeout(2500)
  const [latest, frames] = await zoomed(one)
  console.log(`| ${name} of 100,000 rows: while zooming, the latest of ${frames} frames, thrice | ${latest.toFixed(0)} ms |  | 17 ms |`)
  await one.close()
}
await browser.close()
program.kill('SIGINT')
await new Promise((done) => program.once('exit', done))
rmSync(folder, { recursive: true, force: true })
