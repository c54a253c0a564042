/** How far each page of the history was scrolled, so that going back finds it as it was left. */

/** What scrolls: the window, and a place in it. */
const areas = () => ['html', 'main'].map((css) => document.querySelector<HTMLElement>(css) ?? undefined)

/** A page may still be opening its bench when one comes back to it: so long it is waited for, ms. */
const patience = 2000
/** In so many pictures nothing has moved any more. */
const restful = 12

const kept = new Map<number, number[]>()
let here = 0
const position = () => Number(history.state?.position ?? 0)

/** Before a page is left. */
export function leave() {
  kept.set(
    here,
    areas().map((area) => area?.scrollTop ?? 0),
  )
}

/** Once another page is there. */
export function arrive() {
  here = position()
}

/** A place that is opened anew begins at its top. */
export function begin() {
  for (const area of areas()) area?.scrollTo(0, 0)
}

/** After going back or forth: until what is there has come to rest as it was. */
export function comeBack() {
  const at = position()
  const tops = kept.get(at)
  if (!tops) return
  const began = performance.now()
  let own = false // a hand that scrolls by itself is not held
  for (const kind of ['wheel', 'touchstart', 'keydown'])
    addEventListener(kind, () => (own = true), { once: true, passive: true })
  let atRest = 0
  const again = () => {
    const all = areas()
    atRest = tops.every((top, i) => Math.abs((all[i]?.scrollTop ?? 0) - top) < 1) ? atRest + 1 : 0
    tops.forEach((top, i) => all[i]?.scrollTo(0, top))
    if (!own && atRest < restful && performance.now() - began < patience && position() === at)
      requestAnimationFrame(again)
  }
  again()
}
