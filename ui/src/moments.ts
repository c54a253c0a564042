/** How days and moments are written, as this computer counts them. */

const clock: Intl.DateTimeFormatOptions = { hour: '2-digit', minute: '2-digit', hour12: false }

/** A moment at a glance: today 14:02, yesterday, 14 Nov, 14 Nov 2025. */
export function moment(text: string, now = new Date()): string {
  const at = new Date(text)
  if (at.toDateString() === now.toDateString()) return `today ${at.toLocaleTimeString(undefined, clock)}`
  const before = new Date(now)
  before.setDate(now.getDate() - 1)
  if (at.toDateString() === before.toDateString()) return 'yesterday'
  const year = at.getFullYear() === now.getFullYear() ? undefined : 'numeric'
  return at.toLocaleDateString(undefined, { day: 'numeric', month: 'short', year })
}

/** A day in a sentence: 14 November. */
export const day = (text: string) =>
  new Date(text).toLocaleDateString(undefined, { day: 'numeric', month: 'long' })

/** A moment in full. */
export const whole = (text: string | number) =>
  new Date(text).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })

/** Now, as it is written into a document: 27 Nov 2026, 14:02. */
export const today = () =>
  new Date().toLocaleString(undefined, { day: 'numeric', month: 'short', year: 'numeric', ...clock })

/** The last moment of a day that was chosen as 2026-11-27. */
export function endOf(chosen: string): string {
  const at = new Date(`${chosen}T23:59:59.999`)
  return at.toISOString()
}
