/** What is seen while some entries of a key are looked at alone, and in which colours. */
import type { Figure, Layer, Selection } from '../figure/figure'
import { shade, type Theme } from './theme'

/** Whether each primitive of a layer is shown. A layer that the key does not explain stays. */
export function shown(layer: Layer, selection: Selection | null): (i: number) => boolean {
  if (!selection) return () => true
  const channel = layer.keys?.colour === selection.key ? layer.colour : layer.keys?.shape === selection.key ? layer.shape : undefined
  if (!channel) return () => true
  const away = new Uint8Array(256).fill(1)
  for (const entry of selection.entries) away[entry] = 0
  return (i) => away[channel[i]] === 0
}

/** The colours of a layer's primitives, by their entry or step. */
export function paletteOf(figure: Figure, layer: Layer, theme: Theme): string[] {
  const key = layer.keys?.colour ? figure.keys[layer.keys.colour - 1] : undefined
  if (key?.gradient) return theme.dark ? key.gradient.dark : key.gradient.light
  if (key?.entries && layer.colour) return key.entries.map((e) => shade(theme, e))
  return [shade(theme, layer.style)]
}

/** The colour of a primitive. */
export const colourOf = (palette: string[], layer: Layer, i: number): string =>
  palette[layer.colour && palette.length > 1 ? layer.colour[i] : 0] ?? palette[0]
