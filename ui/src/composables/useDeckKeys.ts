import { useEventListener } from '@vueuse/core'
import { onScopeDispose, shallowRef, watch } from 'vue'

import type { Control } from '../api/client'
import { useLetterKeys } from './useLetterKeys'

type Hand = number | string
type Move = (set: Record<string, Hand>) => void

/** How fast a held key pushes an axis, percent a second. */
const speed = 300

interface AxisKey {
  control: string
  way: 1 | -1
  rest: number | undefined
}
interface SwitchKey {
  control: string
  positions: string[]
  spring: string
}

const stickKeys = [
  { x: ['KeyA', 'KeyD'], y: ['KeyS', 'KeyW'] },
  { x: ['ArrowLeft', 'ArrowRight'], y: ['ArrowDown', 'ArrowUp'] },
] as const

const keyNames: Record<string, string> = {
  KeyA: 'A',
  KeyD: 'D',
  KeyS: 'S',
  KeyW: 'W',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowDown: '↓',
  ArrowUp: '↑',
  Comma: ',',
  Period: '.',
}

/**
 * Which key moves what: sticks by W A S D and the arrows, a wheel and a trigger by the arrows, the first
 * slider by , and . and switches by number.
 */
export function keyMap(controls: Control[]) {
  const axes = new Map<string, AxisKey>()
  const switches = new Map<string, SwitchKey>()
  const hints = new Map<string, string>()
  const sticks = [...new Set(controls.flatMap((c) => (c.stick ? [c.stick] : [])))]
  if (sticks[0] === 'right' && sticks[1] === 'left') sticks.reverse()

  function axis(c: Control, minus: string, plus: string) {
    const rest = c.spring === 'none' ? undefined : c.rest
    axes.set(minus, { control: c.id, way: -1, rest })
    axes.set(plus, { control: c.id, way: 1, rest })
    hints.set(c.id, `${keyNames[minus]} ${keyNames[plus]}`)
  }

  let slider = false
  for (const c of controls) {
    if (c.kind === 'switch') {
      if (switches.size >= 9) continue
      const digit = `Digit${switches.size + 1}`
      switches.set(digit, { control: c.id, positions: c.positions ?? [], spring: c.spring })
      hints.set(c.id, digit.slice(5))
      continue
    }
    // a wheel and a trigger are under one hand of keys, as the two ways of a stick are
    const keys = stickKeys[c.stick ? sticks.indexOf(c.stick) : c.form ? 1 : -1]
    if (keys) {
      const [minus, plus] = c.along === 'x' || c.form === 'wheel' ? keys.x : keys.y
      axis(c, minus, plus)
    } else if (!slider) {
      slider = true
      axis(c, 'Comma', 'Period')
    }
  }
  return { axes, switches, hints }
}

/**
 * Keys reach the deck only while it is taken in hand: D takes it, or a button; Escape lets go, and so does a
 * field, a list or a dialog that gets the focus. Sprung controls go back on letting go of the key, and all of
 * them when the page loses the focus.
 */
export function useDeckKeys(controls: () => Control[], hand: (id: string) => Hand | undefined, move: Move) {
  const inHand = shallowRef(false)
  /** What took the keys away from the deck, until it is taken in hand again. */
  const letGoBy = shallowRef<'' | 'field' | 'dialog'>('')
  const letterKeys = useLetterKeys()
  const held = new Set<string>()
  let frame = 0
  let before = 0

  const map = () => keyMap(controls())

  /** Fields, lists and dialogs want the keys for themselves; the deck's own levers do not. */
  function wantsKeys(target: EventTarget | null): '' | 'field' | 'dialog' {
    if (!(target instanceof Element)) return ''
    if (target.closest('[role=dialog], [role=alertdialog]')) return 'dialog'
    const field = target.closest(
      'input, textarea, select, [contenteditable], [role=combobox], [role=listbox], .p-select',
    )
    return field && !field.matches('[data-lever]') ? 'field' : ''
  }

  function takeInHand() {
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
    letGoBy.value = ''
    inHand.value = true
  }

  function focused(event: FocusEvent) {
    const by = inHand.value ? wantsKeys(event.target) : ''
    if (!by) return
    letGoBy.value = by
    inHand.value = false
  }

  function down(event: KeyboardEvent) {
    if (event.ctrlKey || event.altKey || event.metaKey) return
    if (!inHand.value) {
      if (!letterKeys.value || event.code !== 'KeyD' || event.repeat) return
      if (wantsKeys(event.target) || document.querySelector('[role=dialog]')) return
      event.preventDefault()
      takeInHand()
      return
    }
    if (event.key === 'Escape') {
      event.preventDefault()
      inHand.value = false
      return
    }
    const { axes, switches } = map()
    const sw = switches.get(event.code)
    if (!axes.has(event.code) && !sw) return
    event.preventDefault()
    if (event.repeat || held.has(event.code)) return
    held.add(event.code)
    if (sw) throwSwitch(sw, event.shiftKey)
    else if (!frame) {
      before = performance.now()
      frame = requestAnimationFrame(push)
    }
  }

  /** A sprung switch goes to an end while the key is held; a staying one to its next position. */
  function throwSwitch(sw: SwitchKey, back: boolean) {
    const now = sw.positions.indexOf(String(hand(sw.control)))
    const last = sw.positions.length - 1
    let to = sw.spring ? (back ? 0 : last) : now + (back ? -1 : 1)
    if (to > last) to = 0
    if (to < 0) to = last
    move({ [sw.control]: sw.positions[to] ?? '' })
  }

  function push(now: number) {
    const by = ((now - before) / 1000) * speed
    before = now
    const set: Record<string, Hand> = {}
    for (const code of held) {
      const key = map().axes.get(code)
      if (!key) continue
      const at = set[key.control] ?? hand(key.control) ?? 0
      set[key.control] = Math.min(Math.max(Number(at) + key.way * by, -100), 100)
    }
    if (Object.keys(set).length > 0) move(set)
    frame = Object.keys(set).length > 0 ? requestAnimationFrame(push) : 0
  }

  function up(event: KeyboardEvent) {
    if (held.delete(event.code)) letGo(event.code)
  }

  function letGo(code: string) {
    const { axes, switches } = map()
    const axis = axes.get(code)
    if (axis && axis.rest !== undefined) {
      const other = [...held].some((c) => axes.get(c)?.control === axis.control)
      if (!other) move({ [axis.control]: axis.rest })
    }
    const sw = switches.get(code)
    if (sw?.spring) move({ [sw.control]: sw.spring })
  }

  function release() {
    const codes = [...held]
    held.clear()
    for (const code of codes) letGo(code)
  }

  useEventListener('keydown', down)
  useEventListener('keyup', up)
  useEventListener('blur', release)
  useEventListener('focusin', focused)
  onScopeDispose(() => cancelAnimationFrame(frame))
  watch(inHand, (now) => now || release(), { flush: 'sync' })
  return { inHand, letGoBy, takeInHand, map }
}
