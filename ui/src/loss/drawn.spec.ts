import { describe, expect, it } from 'vitest'

import type { Control } from '../api/client'

import { atRest, drawn, heldFrom, isDrawn, lasting, script } from './drawn'

const control = (one: Partial<Control>): Control => ({
  id: 'gas',
  label: 'Gas',
  kind: 'axis',
  spring: 'centre',
  rest: 0,
  value: 0,
  ...one,
})
const lever = control({})
const key = control({ id: 'key', kind: 'switch', positions: ['off', 'half', 'on'], rest: 1 })

describe('a drawn run', () => {
  it('lasts, and moves nothing, where nothing is drawn', () => {
    const strips = atRest([lever, key], 2)
    expect(strips.map((one) => one.at.length)).toEqual([21, 21])
    expect(strips.some(isDrawn)).toBe(false)
    expect(script(strips, 2)).toBe('t_s,control,value\n2.00,link,up\n')
  })

  it('goes evenly along a line, either way it is drawn, and stays within the ends', () => {
    const [strip] = atRest([lever], 1)
    const there = drawn(strip!, 2, 0, 4, 100)
    expect(there.at.slice(0, 7)).toEqual([0, 0, 0, 50, 100, 0, 0])
    expect(drawn(strip!, 4, 100, 2, 0).at).toEqual(there.at)
    expect(drawn(strip!, 9, 250, 14, 250).at.slice(8)).toEqual([0, 100, 100])
    expect(strip!.at.every((v) => v === 0)).toBe(true)
  })

  it('writes a lever in five rows between two places, a switch in one, in the order of time', () => {
    const [a, b] = atRest([lever, key], 1)
    const strips = [drawn(a!, 1, 50, 1, 50), heldFrom(b!, 1, 2)]
    expect(script(strips, 1).split('\n').slice(1, -1)).toEqual([
      '0.02,gas,10',
      '0.04,gas,20',
      '0.06,gas,30',
      '0.08,gas,40',
      '0.10,gas,50',
      '0.10,key,on',
      '0.12,gas,40',
      '0.14,gas,30',
      '0.16,gas,20',
      '0.18,gas,10',
      '0.20,gas,0',
      '1.00,link,up',
    ])
  })

  it('begins where it is drawn to begin, and goes on standing when it is made longer', () => {
    const [b] = atRest([key], 1)
    const held = heldFrom(b!, 0, 0)
    expect(script([held], 1)).toBe('t_s,control,value\n0.00,key,off\n1.00,link,up\n')
    expect(lasting(held, 2).at).toEqual(Array.from({ length: 21 }, () => 0))
    expect(lasting(held, 0).at).toEqual([0])
  })
})
