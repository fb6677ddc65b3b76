/** Writes numbers for people. The twin of core/scale/format.go; contract/numbers.json holds both. */

export const MINUS = '−'

/** v with a fixed number of decimals, a comma between thousands and a true minus sign. */
export function formatNumber(v: number, decimals: number): string {
  if (Number.isNaN(v)) return ''
  if (!Number.isFinite(v)) return v > 0 ? '∞' : MINUS + '∞'
  if (v !== 0 && (Math.abs(v) >= 1e15 || decimals > 8)) return formatPower(v)
  const text = fixed(Math.abs(v), decimals > 8 ? 0 : Math.max(0, decimals))
  const [whole, fraction] = text.split('.')
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ',')
  const written = fraction ? `${grouped}.${fraction}` : grouped
  return v < 0 && /[1-9]/.test(text) ? MINUS + written : written
}

/** toFixed, but an exact tie goes to the even neighbour, as Go writes it. */
function fixed(v: number, decimals: number): string {
  const scaled = v * 10 ** decimals
  const tie = scaled % 1 === 0.5 && Number.isInteger(v * 2 ** (decimals + 1))
  if (!tie) return v.toFixed(decimals)
  const below = Math.floor(scaled)
  return ((below % 2 === 0 ? below : below + 1) / 10 ** decimals).toFixed(decimals)
}

const SUPERSCRIPTS: Record<string, string> = {
  '-': '⁻',
  '+': '',
  '0': '⁰',
  '1': '¹',
  '2': '²',
  '3': '³',
  '4': '⁴',
  '5': '⁵',
  '6': '⁶',
  '7': '⁷',
  '8': '⁸',
  '9': '⁹',
}

export const superscript = (n: number): string => [...String(n)].map((c) => SUPERSCRIPTS[c]).join('')

function formatPower(v: number, decimals = 6): string {
  const [digits, exponent] = Math.abs(v).toExponential(decimals).split('e')
  const short = digits.includes('.') ? digits.replace(/0+$/, '').replace(/\.$/, '') : digits
  const power = superscript(Number(exponent))
  return `${v < 0 ? MINUS : ''}${short} × 10${power}`
}

/** v with about the given number of significant digits and no trailing zeros. */
export function formatValue(v: number, digits: number): string {
  if (v === 0 || !Number.isFinite(v)) return formatNumber(v, 0)
  if (Math.abs(v) < 1e-6) return formatPower(v, Math.max(digits, 1) - 1)
  const decimals = digits - 1 - Math.floor(Math.log10(Math.abs(v)))
  const text = formatNumber(v, Math.min(Math.max(decimals, 0), 8))
  return text.includes('.') && !text.includes('×') ? text.replace(/0+$/, '').replace(/\.$/, '') : text
}

/** "1 row", "1,180 rows". */
export const counted = (n: number, one: string, many = `${one}s`): string => `${formatNumber(n, 0)} ${n === 1 ? one : many}`

/** An amount of money as people write it: 12.5 is 12.50. */
export const pence = (text: string): string => (/^[^.]*\.\d$/.test(text) ? `${text}0` : text)
