/** Where each control lies on the deck: as it lies under the hand. */
import type { Control } from '../api/client'
import { capital } from '../figures'

export type Side = 'left' | 'between' | 'right'

/** A pad of one stick, or a wheel or a trigger, which takes as much room. */
export interface Pad {
  key: string
  side: Side
  name: string
  across?: Control
  along?: Control
  /** A wheel or a trigger; nothing where it is a stick. */
  control?: Control
}

/** A transmitter with a wheel is held in the left hand, with the trigger under its finger. */
const usual: Record<string, Side> = { trigger: 'left', wheel: 'right' }

export function pads(controls: Control[]): Pad[] {
  const names = [...new Set(controls.flatMap((c) => (c.stick ? [c.stick] : [])))]
  const sticks = names.map((name, i): Pad => {
    const axes = controls.filter((c) => c.stick === name)
    const at = axes[0]?.lies ?? (name === 'left' || name === 'right' ? name : i === 0 ? 'left' : 'right')
    return {
      key: `stick.${name}`,
      side: at as Side,
      name: `${capital(name)} stick`,
      across: axes.find((c) => c.along === 'x'),
      along: axes.find((c) => c.along !== 'x'),
    }
  })
  const formed = controls
    .filter((c) => c.form && !c.stick)
    .map((control): Pad => {
      const side = (control.lies ?? usual[control.form ?? '']) as Side
      return { key: control.id, side, name: control.label, control }
    })
  return [...sticks, ...formed]
}

/** The controls that are no pad, side by side as they lie. */
export function others(controls: Control[]): { side: Side; controls: Control[] }[] {
  const small = controls.filter((c) => !c.stick && !c.form)
  const sides: Side[] = ['left', 'between', 'right']
  return sides
    .map((side) => ({ side, controls: small.filter((c) => (c.lies ?? 'between') === side) }))
    .filter((one) => one.controls.length > 0)
}
