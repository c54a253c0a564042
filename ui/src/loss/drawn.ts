import type { Control } from '../api/client'

/** How many places a drawn run has in a second, and how many rows of a script lie between two of them. */
export const perSecond = 10
const rows = 5

/** Where a control stands over a drawn run: percent of an axis, the number of a switch's position. */
export interface Strip {
  control: Control
  at: number[]
}

/** A run of some seconds in which nothing is moved. */
export const atRest = (controls: Control[], seconds: number): Strip[] =>
  controls.map((control) => ({
    control,
    at: Array.from({ length: seconds * perSecond + 1 }, () => control.rest),
  }))

/** The highest and the lowest place of a control. */
export const ends = (control: Control): [low: number, high: number] =>
  control.kind === 'switch' ? [0, Math.max((control.positions?.length ?? 1) - 1, 1)] : [-100, 100]

/** The same strip with a line drawn over it from one place of time to another. */
export function drawn(strip: Strip, from: number, value: number, to: number, then: number): Strip {
  const at = [...strip.at]
  const [low, high] = ends(strip.control)
  const [a, b] = from <= to ? [from, to] : [to, from]
  for (let i = Math.max(a, 0); i <= Math.min(b, at.length - 1); i++) {
    const share = from === to ? 1 : (i - from) / (to - from)
    at[i] = Math.min(Math.max(Math.round(value + share * (then - value)), low), high)
  }
  return { ...strip, at }
}

/** The same strip that stands somewhere else from a place of time on. */
export const heldFrom = (strip: Strip, from: number, value: number): Strip =>
  drawn(strip, from, value, strip.at.length - 1, value)

/** The same strip made longer or shorter; what is new stands where it last stood. */
export const lasting = (strip: Strip, seconds: number): Strip => ({
  ...strip,
  at: Array.from({ length: seconds * perSecond + 1 }, (_, i) => strip.at[i] ?? strip.at.at(-1) ?? 0),
})

/** Whether anything was drawn on a strip. */
export const isDrawn = (strip: Strip): boolean => strip.at.some((v) => v !== strip.control.rest)

/** The script of a drawn run: levers go evenly from place to place, switches all at once. */
export function script(strips: Strip[], seconds: number): string {
  const list: { t: number; id: string; value: string }[] = []
  for (const { control, at } of strips) {
    const word = (v: number) => control.positions?.[v] ?? String(Number(v.toFixed(1)))
    let last = control.rest
    const put = (t: number, v: number) => {
      if (v !== last) list.push({ t, id: control.id, value: word(v) })
      last = v
    }
    put(0, at[0] ?? control.rest)
    for (let i = 1; i < at.length; i++) {
      const from = at[i - 1] ?? 0
      const to = at[i] ?? 0
      const steps = control.kind === 'switch' ? 1 : rows
      for (let k = 1; k <= steps; k++)
        put((i - 1 + k / steps) / perSecond, k === steps ? to : from + ((to - from) * k) / steps)
    }
  }
  list.sort((a, b) => a.t - b.t)
  list.push({ t: seconds, id: 'link', value: 'up' }) // so long it lasts
  return ['t_s,control,value', ...list.map((row) => `${row.t.toFixed(2)},${row.id},${row.value}`), ''].join(
    '\n',
  )
}
