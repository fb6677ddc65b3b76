// Writes core/text/hanken.json: how wide each character of Hanken Grotesk is, in
// thousandths of the font size, so that the server measures text as the browser
// draws it. Run again when the font package changes: npm run text-metrics
import { readFileSync, writeFileSync } from 'node:fs'
import { inflateSync } from 'node:zlib'

/** The tables of a WOFF 1.0 file (W3C Recommendation, 13 December 2012), by tag. */
function tables(file) {
  const woff = readFileSync(file)
  const found = {}
  for (let i = 0; i < woff.readUInt16BE(12); i++) {
    const entry = 44 + 20 * i
    const [offset, packed, length] = [4, 8, 12].map((o) => woff.readUInt32BE(entry + o))
    const raw = woff.subarray(offset, offset + packed)
    found[woff.toString('latin1', entry, entry + 4)] = packed < length ? inflateSync(raw) : raw
  }
  return found
}

/** Character to glyph, from a format 4 subtable of cmap. */
function glyphOf(cmap) {
  for (let i = 0; i < cmap.readUInt16BE(2); i++) {
    const start = cmap.readUInt32BE(4 + 8 * i + 4)
    if (cmap.readUInt16BE(start) !== 4) continue
    const segments = cmap.readUInt16BE(start + 6) / 2
    return (code) => {
      for (let s = 0; s < segments; s++) {
        const end = cmap.readUInt16BE(start + 14 + 2 * s)
        if (code > end) continue
        const at = start + 16 + 2 * segments + 2 * s
        const first = cmap.readUInt16BE(at)
        if (code < first) return 0
        const delta = cmap.readUInt16BE(at + 2 * segments)
        const range = cmap.readUInt16BE(at + 4 * segments)
        if (range === 0) return (code + delta) & 0xffff
        const glyph = cmap.readUInt16BE(at + 4 * segments + range + 2 * (code - first))
        return glyph === 0 ? 0 : (glyph + delta) & 0xffff
      }
      return 0
    }
  }
  throw new Error('the font has no format 4 character map')
}

const characters = []
for (let code = 0x20; code < 0x17f; code++) if (code < 0x7f || code > 0xa0) characters.push(code)
characters.push(0x2212, 0x2013, 0x2014, 0x2019, 0x201c, 0x201d, 0x2026)

const metrics = {}
for (const weight of [400, 600]) {
  const advances = {}
  for (const subset of ['latin', 'latin-ext']) {
    const t = tables(`node_modules/@fontsource/hanken-grotesk/files/hanken-grotesk-${subset}-${weight}-normal.woff`)
    const glyph = glyphOf(t.cmap)
    const unitsPerEm = t.head.readUInt16BE(18)
    const measured = t.hhea.readUInt16BE(34)
    for (const code of characters) {
      const g = glyph(code)
      if (g === 0) continue
      const advance = t.hmtx.readUInt16BE(4 * Math.min(g, measured - 1))
      advances[String.fromCodePoint(code)] ??= Math.round((1000 * advance) / unitsPerEm)
    }
  }
  metrics[weight] = advances
}
writeFileSync('../core/text/hanken.json', JSON.stringify(metrics, null, 1) + '\n')
