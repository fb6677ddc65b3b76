/** Tells the reader of a live page when what it shows was followed by something newer. */

/** How often it is asked, in milliseconds. */
const ASK_EVERY = 15_000

export function tellNews(page: HTMLElement): void {
  const line = document.getElementById('news')
  if (!line || !('live' in page.dataset)) return
  let of = ''
  const ask = async () => {
    if (document.hidden) return
    try {
      const answer = await fetch(`/s/${page.dataset.key}/state`)
      if (!answer.ok) return
      const state = (await answer.json()) as { of: string }
      if (of && state.of !== of) tell(line)
      of ||= state.of
    } catch {
      // asked again
    }
  }
  void ask()
  setInterval(() => void ask(), ASK_EVERY)
}

function tell(line: HTMLElement): void {
  if (!line.hidden) return
  line.textContent = 'What this shows has changed. '
  const show = document.createElement('button')
  show.type = 'button'
  show.textContent = 'Show it'
  show.addEventListener('click', () => location.reload())
  line.append(show)
  line.hidden = false
}
