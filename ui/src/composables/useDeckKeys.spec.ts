import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'

import type { Control } from '../api/client'
import { keyMap, useDeckKeys } from './useDeckKeys'
import { useLetterKeys } from './useLetterKeys'

const base = { label: '', value: 0, rest: 0 }
const controls: Control[] = [
  { ...base, id: 'drive', kind: 'axis', spring: 'centre', stick: 'right', along: 'y' },
  { ...base, id: 'gas', kind: 'axis', spring: 'none', stick: 'left', along: 'y' },
  { ...base, id: 'lamp', kind: 'switch', spring: '', positions: ['dark', 'lit'] },
  { ...base, id: 'rocker', kind: 'switch', spring: 'rest', positions: ['in', 'rest', 'out'] },
  { ...base, id: 'slider', kind: 'axis', spring: 'none' },
]

let scope: EffectScope
let hands: Record<string, number | string>

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['requestAnimationFrame', 'cancelAnimationFrame', 'performance'] })
  hands = { drive: 0, gas: 0, lamp: 'dark', rocker: 'rest', slider: 0 }
  scope = effectScope()
})
afterEach(() => {
  scope.stop()
  vi.useRealTimers()
})

function take() {
  return scope.run(() =>
    useDeckKeys(
      () => controls,
      (id) => hands[id],
      (set) => Object.assign(hands, set),
    ),
  )!
}

function key(type: 'keydown' | 'keyup', code: string, more: KeyboardEventInit = {}) {
  window.dispatchEvent(new KeyboardEvent(type, { code, key: code, bubbles: true, ...more }))
}

describe('deck keys', () => {
  it('give the left stick the letters and the right one the arrows, wherever they stand in the list', () => {
    const { hints } = keyMap(controls)
    expect([hints.get('drive'), hints.get('gas'), hints.get('slider'), hints.get('lamp')]).toEqual([
      '↓ ↑',
      'S W',
      ', .',
      '1',
    ])
  })

  it('move nothing until the deck is taken in hand', () => {
    const { inHand } = take()
    key('keydown', 'ArrowUp')
    vi.advanceTimersByTime(200)
    expect(hands.drive).toBe(0)
    key('keydown', 'KeyD')
    expect(inHand.value).toBe(true)
    key('keydown', 'ArrowUp')
    vi.advanceTimersByTime(1000)
    expect(hands.drive).toBe(100)
  })

  it('let a sprung axis go back on release and leave an unsprung one', () => {
    take()
    key('keydown', 'KeyD')
    key('keydown', 'ArrowUp')
    key('keydown', 'KeyW')
    vi.advanceTimersByTime(1000)
    key('keyup', 'ArrowUp')
    key('keyup', 'KeyW')
    expect([hands.drive, hands.gas]).toEqual([0, 100])
  })

  it('step a staying switch and hold a sprung one', () => {
    take()
    key('keydown', 'KeyD')
    key('keydown', 'Digit1')
    key('keyup', 'Digit1')
    expect(hands.lamp).toBe('lit')
    key('keydown', 'Digit2')
    expect(hands.rocker).toBe('out')
    key('keyup', 'Digit2')
    expect(hands.rocker).toBe('rest')
    key('keydown', 'Digit2', { shiftKey: true })
    expect(hands.rocker).toBe('in')
  })

  it('let go of everything on Escape and when the page loses the focus', () => {
    const { inHand } = take()
    key('keydown', 'KeyD')
    key('keydown', 'ArrowUp')
    vi.advanceTimersByTime(100)
    window.dispatchEvent(new Event('blur'))
    expect(hands.drive).toBe(0)
    key('keydown', 'Escape')
    expect(inHand.value).toBe(false)
  })

  it('let go when a field gets the focus, so that typing throws nothing', () => {
    const { inHand, letGoBy } = take()
    const field = document.body.appendChild(document.createElement('input'))
    key('keydown', 'KeyD')
    key('keydown', 'ArrowUp')
    vi.advanceTimersByTime(100)
    field.dispatchEvent(new FocusEvent('focusin', { bubbles: true }))
    expect(inHand.value).toBe(false)
    expect(letGoBy.value).toBe('field')
    expect(hands.drive).toBe(0)
    key('keydown', 'Digit1')
    expect(hands.lamp).toBe('dark')
    field.remove()
  })

  it('stay where a lever of the deck or a button gets it', () => {
    const { inHand } = take()
    key('keydown', 'KeyD')
    for (const of of ['input', 'button']) {
      const one = document.body.appendChild(document.createElement(of))
      one.dataset.lever = 'slider'
      one.dispatchEvent(new FocusEvent('focusin', { bubbles: true }))
      expect(inHand.value).toBe(true)
      one.remove()
    }
  })

  it('are not taken by a letter where letters are no keys', () => {
    useLetterKeys().value = false
    const { inHand, takeInHand } = take()
    key('keydown', 'KeyD')
    expect(inHand.value).toBe(false)
    takeInHand()
    expect(inHand.value).toBe(true)
    useLetterKeys().value = true
  })
})
