/** A canvas that writes down what is asked of it, for painting without a browser. */
const rounded = (v: unknown) => (typeof v === 'number' ? String(Math.round(v * 100) / 100) : JSON.stringify(v))

export class Recorder {
  readonly calls: string[] = []
  /** What the painter draws on: every call and every setting that changes is written down. */
  readonly context: CanvasRenderingContext2D

  constructor(name = '') {
    const state: Record<string, unknown> = {}
    const special: Record<string, (...args: never[]) => unknown> = {
      measureText: (text: string) => ({ width: 6 * text.length }),
      drawImage: (image: { recorder: Recorder }, ...at: number[]) =>
        void this.calls.push(`drawImage(${image.recorder.calls.join(' ')} | ${at.map(rounded).join(', ')})`),
      createImageData: (width: number, height: number) => ({ data: new Uint8ClampedArray(4 * width * height), width, height }),
      putImageData: (image: { data: Uint8ClampedArray; width: number }) => {
        const touched: string[] = []
        for (let i = 0; i < image.data.length; i += 4)
          if (image.data[i + 3] > 0)
            touched.push(`${(i / 4) % image.width},${Math.floor(i / 4 / image.width)}:${image.data.slice(i, i + 3).join(' ')}`)
        this.calls.push(`putImageData(${touched.join(' ')})`)
      },
    }
    this.context = new Proxy({} as CanvasRenderingContext2D, {
      get: (_, key: string) =>
        key in state
          ? state[key]
          : (...args: never[]) =>
              special[key] ? special[key](...args) : void this.calls.push(`${name}${key}(${args.map(rounded).join(', ')})`),
      set: (_, key: string, value) => {
        if (state[key] !== value) this.calls.push(`${key}=${rounded(value)}`)
        state[key] = value
        return true
      },
    })
  }
}

/** Makes elements that are canvases of their own, as the painter of points asks for them. */
/** What an ImageData is to those that make one. */
class Pixels {
  constructor(
    readonly data: Uint8ClampedArray,
    readonly width: number,
    readonly height: number,
  ) {}
}
;(globalThis as Record<string, unknown>).ImageData ??= Pixels

export function withCanvases<T>(act: () => T): T {
  const before = globalThis.document
  globalThis.document = {
    createElement: () => {
      const recorder = new Recorder()
      return { recorder, width: 0, height: 0, getContext: () => recorder.context }
    },
  } as unknown as Document
  try {
    return act()
  } finally {
    globalThis.document = before
  }
}
