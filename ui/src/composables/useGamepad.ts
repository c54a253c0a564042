import { useEventListener } from '@vueuse/core'
import { onScopeDispose, shallowRef, watch } from 'vue'

import { api, type Control } from '../api/client'

type Hand = number | string

/** What on the gamepad moves a control: an axis with its way of +, or a button. */
export interface Binding {
  axis?: number
  button?: number
  turned?: boolean
}
export type Mapping = Record<string, Binding>

/**
 * The two sticks of a gamepad, as they usually lie: x, y, x, y with + towards you. Common practice, no
 * source.
 */
export function usualMapping(controls: Control[]): Mapping {
  const mapping: Mapping = {}
  for (const c of controls) {
    if (c.kind !== 'axis' || (c.stick !== 'left' && c.stick !== 'right')) continue
    const y = c.along !== 'x'
    mapping[c.id] = { axis: (c.stick === 'left' ? 0 : 2) + (y ? 1 : 0), turned: y }
  }
  return mapping
}

/** Where a gamepad puts the controls; what did not move stays out. */
export function read(
  pad: { axes: readonly number[]; buttons: readonly { pressed: boolean }[] },
  mapping: Mapping,
  controls: Control[],
  last: Record<string, Hand>,
): Record<string, Hand> {
  const set: Record<string, Hand> = {}
  for (const c of controls) {
    const at = mapping[c.id]
    if (!at) continue
    let now: Hand | undefined
    if (at.axis !== undefined && c.kind === 'axis') {
      const v = (pad.axes[at.axis] ?? 0) * (at.turned ? -100 : 100)
      now = Math.abs(v) < 2 ? 0 : Math.round(v * 2) / 2
    } else if (at.button !== undefined && c.kind === 'switch' && c.positions?.length) {
      const pressed = pad.buttons[at.button]?.pressed ?? false
      const rest = c.spring || c.positions[0]
      const end = c.positions.findLast((p) => p !== rest)
      now = pressed ? end : rest
    }
    if (now !== undefined && now !== last[c.id]) set[c.id] = now
  }
  return set
}

/** Whether a gamepad is there. */
export const gamepadThere = shallowRef(false)

/**
 * What takes the next axis that goes far, or button that goes down, instead of the deck: it gives the
 * control that it is to move from then on.
 */
export const gamepadTaker = shallowRef<(moved: Binding) => Promise<string | undefined>>()

/**
 * A gamepad, or a transmitter that shows up as one, moves the deck. What moves what is kept with the
 * transmitter, by its name.
 */
export function useGamepad(
  set: () => string,
  controls: () => Control[],
  move: (set: Record<string, Hand>) => void,
) {
  const pad = shallowRef<string>()
  const mapping = shallowRef<Mapping>({})
  const learning = shallowRef<string>()
  const last: Record<string, Hand> = {}
  let before: { axes: number[]; buttons: boolean[] } | undefined
  let frame = 0
  watch([learning, gamepadTaker], () => (before = undefined)) // each choice begins from how the pad lies then

  watch([() => pad.value, () => set(), () => controls().length], async () => {
    if (!pad.value || !set()) return
    mapping.value = usualMapping(controls())
    const kept = (await api.GET('/api/gamepads', { params: { query: { set: set() } } })).data
    if (kept && Object.keys(kept).length > 0) mapping.value = kept
  })

  function poll() {
    const now = navigator.getGamepads().find((p) => p?.connected)
    pad.value = now?.id
    gamepadThere.value = now !== undefined
    frame = now ? requestAnimationFrame(poll) : 0
    if (!now) return
    if (learning.value) return learn(now)
    if (gamepadTaker.value) return give(now, gamepadTaker.value)
    const moved = read(now, mapping.value, controls(), last)
    Object.assign(last, moved)
    if (Object.keys(moved).length > 0) move(moved)
  }

  /** The first axis that goes far, or button that goes down, is the one that is meant. */
  function movedFirst(now: Gamepad): Binding | undefined {
    before ??= { axes: [...now.axes], buttons: now.buttons.map((b) => b.pressed) }
    const axis = now.axes.findIndex((v, i) => Math.abs(v - (before?.axes[i] ?? 0)) > 0.5)
    const button = now.buttons.findIndex((b, i) => b.pressed && !before?.buttons[i])
    if (axis < 0 && button < 0) return undefined
    return axis >= 0 ? { axis, turned: (now.axes[axis] ?? 0) < (before.axes[axis] ?? 0) } : { button }
  }

  function keep(control: string, binding: Binding) {
    mapping.value = { ...mapping.value, [control]: binding }
    void api.PUT('/api/gamepads', { params: { query: { set: set() } }, body: mapping.value })
  }

  function learn(now: Gamepad) {
    const binding = movedFirst(now)
    if (!binding) return
    keep(learning.value ?? '', binding)
    learning.value = before = undefined
  }

  /** One movement is one control: the next counts when all is let go again. */
  let taken = false
  function give(now: Gamepad, take: (moved: Binding) => Promise<string | undefined>) {
    const binding = movedFirst(now)
    if (binding && !taken) {
      taken = true
      void take(binding).then((control) => control && keep(control, binding))
    } else if (!binding) taken = false
  }

  function connected() {
    if (!frame) frame = requestAnimationFrame(poll)
  }

  useEventListener('gamepadconnected', connected)
  if (navigator.getGamepads?.().some(Boolean)) connected()
  onScopeDispose(() => {
    cancelAnimationFrame(frame)
    gamepadThere.value = false
  })
  return { pad, mapping, learning }
}
