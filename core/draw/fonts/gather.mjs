// Gathers the fonts that charts are drawn with from npm packages, all under the SIL Open Font
// License: run by `make fonts` in a folder into which the packages were installed.
import { copyFileSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const from = (name) => `node_modules/@fontsource/${name}`
const here = fileURLToPath(new URL('.', import.meta.url))
const copy = (pack, subset, weight, to) => copyFileSync(`${from(pack)}/files/${pack}-${subset}-${weight}-normal.woff`, `${here}${to}.woff`)
for (const subset of ['latin', 'latin-ext']) {
  copy('hanken-grotesk', subset, 400, `sans-400-${subset}`)
  copy('hanken-grotesk', subset, 600, `sans-600-${subset}`)
  copy('literata', subset, 400, `serif-400-${subset}`)
  copy('literata', subset, 600, `serif-600-${subset}`)
}
for (const subset of ['greek', 'cyrillic', 'vietnamese', 'devanagari']) copy('noto-sans', subset, 400, `more-${subset}`)
copy('noto-sans-hebrew', 'hebrew', 400, 'more-hebrew')
copy('noto-sans-arabic', 'arabic', 400, 'more-arabic')
// Han and kana come in a hundred pieces: one file holds them behind each other, and an index says
// which characters each has and where it lies.
const unicode = JSON.parse(readFileSync(`${from('noto-sans-jp')}/unicode.json`))
const pieces = []
const index = []
let offset = 0
for (const [name, ranges] of Object.entries(unicode)) {
  if (!/^\[\d+\]$/.test(name)) continue
  const piece = readFileSync(`${from('noto-sans-jp')}/files/noto-sans-jp-${name.slice(1, -1)}-400-normal.woff`)
  index.push({ offset, length: piece.length, ranges })
  pieces.push(piece)
  offset += piece.length
}
writeFileSync(`${here}han.bin`, Buffer.concat(pieces))
writeFileSync(`${here}han.json`, JSON.stringify(index))
