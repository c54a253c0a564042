/** An axis under the hand: what is said of it, how far it may be pushed, and when it goes back. */
import type { Control } from '../api/client'

/** Where it stands, as a reader of the page hears it: forward 10 percent. */
export function axisWords(control: Control, at: number): string {
  if (at === 0) return 'in the middle'
  const way = at < 0 ? (control.minus ?? 'minus') : (control.plus ?? 'plus')
  return `${way} ${Math.abs(at)} percent`
}

/** A place within its travel, in halves of a percent. */
export const within = (to: number) => Math.min(Math.max(Math.round(to * 2) / 2, -100), 100)

/** Whether it springs back, and is not where it rests. */
export const goesBack = (control: Control, at: number) => control.spring !== 'none' && at !== control.rest
