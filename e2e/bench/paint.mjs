// What a page measures of its own chart of many dots, and of the obvious way beside it.

const median = (times) => times.sort((a, b) => a - b)[times.length >> 1]

/** A full repaint, turn by turn with one arc() a dot: medians, in milliseconds. */
export async function repaint(page, rounds) {
  const [ours, arcs] = [[], []]
  for (let round = 0; round < rounds; round++) {
    const before = await page.locator('.lark-chart').getAttribute('data-paints')
    await page.emulateMedia({ colorScheme: round % 2 ? 'light' : 'dark' }) // other colours: nothing of the last picture can stay
    await page.waitForFunction((before) => document.querySelector('.lark-chart').dataset.paints !== before, before)
    ours.push(Number(await page.locator('.lark-chart').getAttribute('data-paint-ms')))
    arcs.push(await page.evaluate(arcsOfChart))
  }
  await page.emulateMedia({ colorScheme: 'light' })
  return [median(ours), median(arcs)]
}

/** Paints as many dots as the chart has the obvious way. */
function arcsOfChart() {
  const host = document.querySelector('.lark-chart')
  const dots = Number(host.dataset.painted)
  const { width, height } = host.querySelector('canvas')
  const beside = Object.assign(document.createElement('canvas'), { width, height })
  const c = beside.getContext('2d')
  const gauss = () => Math.sqrt(-2 * Math.log(1 - Math.random())) * Math.cos(2 * Math.PI * Math.random())
  const places = Float32Array.from({ length: 2 * dots }, (_, i) => (i % 2 ? height : width) * (0.5 + 0.16 * gauss()))
  const begun = performance.now()
  c.globalAlpha = 0.5
  for (let i = 0; i < dots; i++) {
    c.fillStyle = ['#1f7a6d', '#b8601f', '#55208a', '#1d4f91'][i & 3]
    c.beginPath()
    c.arc(places[2 * i], places[2 * i + 1], 1.5 + (i % 9) / 2, 0, 2 * Math.PI)
    c.fill()
  }
  c.getImageData(0, 0, 1, 1)
  return performance.now() - begun
}

/** Zooms for two seconds: the latest frame, how many there were, and how long after the hand rested the picture was sharp. */
export const zoomed = (page) =>
  page.evaluate(
    () =>
      new Promise((done) => {
        const host = document.querySelector('.lark-chart')
        const over = [...host.querySelectorAll('canvas')].at(-1)
        const box = over.getBoundingClientRect()
        const frames = []
        let last = 0
        const tick = (now) => {
          if (last) frames.push(now - last)
          last = now
          if (frames.length < 120) {
            over.dispatchEvent(new WheelEvent('wheel', { deltaY: frames.length % 60 < 30 ? -20 : 20, clientX: box.left + box.width / 2, clientY: box.top + box.height / 2, bubbles: true, cancelable: true }))
            requestAnimationFrame(tick)
            return
          }
          const rested = performance.now()
          const wait = () => (host.dataset.sharp === 'yes' ? done([Math.max(...frames), frames.length, performance.now() - rested]) : requestAnimationFrame(wait))
          requestAnimationFrame(wait)
        }
        requestAnimationFrame(tick)
      }),
  )
