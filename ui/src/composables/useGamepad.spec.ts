import { describe, expect, it } from 'vitest'

import type { Control } from '../api/client'
import { read, usualMapping } from './useGamepad'

const axis = (id: string, stick: string, along: string): Control => ({
  id,
  label: id,
  kind: 'axis',
  spring: 'centre',
  stick,
  along,
  rest: 0,
  value: 0,
})
const button: Control = {
  id: 'horn',
  label: 'horn',
  kind: 'switch',
  spring: 'off',
  positions: ['off', 'press'],
  rest: 0,
  value: 1,
}
const controls = [axis('drive', 'right', 'y'), axis('turn', 'right', 'x'), axis('lift', 'left', 'y'), button]
const pad = (axes: number[], pressed = false) => ({ axes, buttons: [{ pressed: false }, { pressed }] })

describe('the gamepad', () => {
  it('has its sticks where they usually lie, away from you is +', () => {
    const mapping = usualMapping(controls)
    expect(mapping).toEqual({
      drive: { axis: 3, turned: true },
      turn: { axis: 2, turned: false },
      lift: { axis: 1, turned: true },
    })
    expect(read(pad([0, 0, 0.5, -1]), mapping, controls, {})).toEqual({ drive: 100, turn: 50, lift: 0 })
  })

  it('sends only what moved, and rests within two percent', () => {
    const mapping = usualMapping(controls)
    const last = { drive: 0, turn: 0, lift: 0 }
    expect(read(pad([0, 0.01, 0, -0.015]), mapping, controls, last)).toEqual({})
    expect(read(pad([0, 0, -0.25, 0]), mapping, controls, last)).toEqual({ turn: -25 })
  })

  it('presses a button while it is pressed', () => {
    const mapping = { horn: { button: 1 } }
    expect(read(pad([], true), mapping, controls, { horn: 'off' })).toEqual({ horn: 'press' })
    expect(read(pad([]), mapping, controls, { horn: 'press' })).toEqual({ horn: 'off' })
  })
})
