/** How figures are written: one decimal, a real minus sign. The values themselves are the server's. */

const minus = '−'

/** A position in percent: +30.4, −72.3, 0.0. */
export function percent(v: number): string {
  const text = Math.abs(v).toFixed(1)
  if (Number(text) === 0) return '0.0'
  return (v < 0 ? minus : '+') + text
}

/** A pulse in microseconds: 1652.0. */
export function pulse(v: number): string {
  return v.toFixed(1)
}

/** A pulse as it is read at a glance, in whole microseconds: 1652. */
export function wholePulse(v: number): string {
  return String(Math.round(v))
}

/** A value with the way of writing that its unit has. */
export function figure(v: number, unit: string): string {
  if (unit === 'on') return v > 0 ? 'on' : 'off'
  if (unit === 'step') return `step ${v}`
  if (unit === 's') return `${v.toFixed(1)} s`
  if (unit === 'holds') return v === 1 ? 'yes' : v === 0 ? 'no' : `${Math.round(v * 100)} %`
  return unit === '%' ? percent(v) : pulse(v)
}

/** A value that has a name, such as the step of a stepper, or a figure. */
export function shown(v: number, unit: string, names?: string[]): string {
  return names ? (names[Math.round(v)] ?? '') : figure(v, unit)
}

/** A setting as it stands in a field: −96, 12.5. */
export function setting(v: number): string {
  return String(Math.round(v * 1e6) / 1e6).replace('-', minus)
}

/**
 * What a person typed as a number: a comma, a real minus sign or a dash for one, spaces between thousands
 * and the unit behind it will do. undefined for anything else.
 */
export function typed(text: string, unit = ''): number | undefined {
  let plain = text.trim()
  if (unit && plain.endsWith(unit)) plain = plain.slice(0, -unit.length).trim()
  plain = plain
    .replace(/^[−–]/, '-')
    .replace(/(\d)[ \u00a0\u2009\u202f](?=\d{3}(\D|$))/g, '$1')
    .replace(',', '.')
    .replace(/^\+/, '')
  return /^-?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : undefined
}

/** Tells a figure, to be set in the mono, from words. */
export function isFigure(text: string): boolean {
  return /^[+−]?[\d.]/.test(text)
}

/** A word or a name as it begins a line. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
