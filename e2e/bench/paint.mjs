// What a page measures of its own chart of many dots, and of the obvious way beside it.

const median = (times) => times.sort((a, b) => a - b)[times.length >> 1]

/** A full repaint until its pixels stand, turn by turn with one arc() a dot where that is wanted: medians, in milliseconds. */
export async function repaint(page, rounds, beside = true) {
  const [ours, arcs] = [[], []]
  for (let round = 0; round < rounds; round++) {
    await page.evaluate(watchPaint)
    await page.emulateMedia({ colorScheme: round % 2 ? 'light' : 'dark' }) // other colours: nothing of the last picture can stay
    ours.push(await page.evaluate(() => globalThis.nextPaint))
    if (beside) arcs.push(await page.evaluate(arcsOfChart))
  }
  await page.emulateMedia({ colorScheme: 'light' })
  return [median(ours), beside ? median(arcs) : NaN]
}

/** Has nextPaint tell how long the chart's next painting takes, with what a canvas puts off until its pixels are read. */
function watchPaint() {
  const host = document.querySelector('.lark-chart')
  globalThis.nextPaint = new Promise((done) => {
    new MutationObserver((_, watch) => {
      watch.disconnect()
      const begun = performance.now()
      host.querySelector('canvas').getContext('2d').getImageData(0, 0, 1, 1)
      done(Number(host.dataset.paintMs) + performance.now() - begun)
    }).observe(host, { attributes: true, attributeFilter: ['data-paints'] })
  })
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

/** Zooms three times for two seconds: the latest frame of each, how long after the hand rested the picture was sharp, both as medians, and how many frames there were each time. */
export async function zoomed(page) {
  const runs = [await zoomedOnce(page), await zoomedOnce(page), await zoomedOnce(page)]
  return [median(runs.map((r) => r[0])), runs[0][1], median(runs.map((r) => r[2]))]
}

const zoomedOnce = (page) =>
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
            over.dispatchEvent(
              new WheelEvent('wheel', {
                deltaY: frames.length % 60 < 30 ? -20 : 20,
                clientX: box.left + box.width / 2,
                clientY: box.top + box.height / 2,
                bubbles: true,
                cancelable: true,
              }),
            )
            requestAnimationFrame(tick)
            return
          }
          const rested = performance.now()
          const wait = () =>
            host.dataset.sharp !== 'no'
              ? done([Math.max(...frames), frames.length, performance.now() - rested])
              : requestAnimationFrame(wait)
          requestAnimationFrame(wait)
        }
        requestAnimationFrame(tick)
      }),
  )

/** Points at dots here and there: how long until their card stands there, p95 in milliseconds. */
export const pointed = (page) =>
  page.evaluate(async () => {
    const over = [...document.querySelectorAll('.lark-chart canvas')].at(-1)
    const card = document.querySelector('.lark-card')
    const box = over.getBoundingClientRect()
    const move = (x, y) =>
      over.dispatchEvent(new PointerEvent('pointermove', { clientX: x, clientY: y, bubbles: true, pointerType: 'mouse' }))
    const stands = () => card.offsetWidth > 0 && getComputedStyle(card).visibility !== 'hidden' && card.textContent !== ''
    const frame = () => new Promise(requestAnimationFrame)
    const times = []
    for (let i = 0; i < 60; i++) {
      move(box.left - 50, box.top - 50)
      over.dispatchEvent(new PointerEvent('pointerleave'))
      for (let n = 0; n < 30 && stands(); n++) await frame()
      const begun = performance.now()
      move(box.left + box.width * (0.35 + 0.3 * Math.sin(i)), box.top + box.height * (0.45 + 0.2 * Math.cos(3 * i)))
      while (!stands() && performance.now() - begun < 1000) await new Promise((done) => setTimeout(done))
      if (stands()) times.push(performance.now() - begun)
    }
    return [times.sort((a, b) => a - b)[Math.ceil(times.length * 0.95) - 1], times.length]
  })
