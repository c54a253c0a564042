import { describe, expect, it } from 'vitest'

import { place, valueAt, type Strip } from '../stores/record'
import { laid, lines, said } from './layout'
import { choicesOf, condition, opposite, rowsOf, type Place } from './places'
import { nearestEdge } from './strips'

const states = {
  nodes: [
    { label: 'dark', soon: '', wakes: true, goal: true },
    { label: 'riding', soon: '', wakes: false, goal: true },
    { label: 'towing', soon: 'dark in 5 s', wakes: false, goal: true },
  ],
  edges: [
    { from: 0, to: 1, by: ['press'] },
    { from: 1, to: 2, by: ['press', 'Lock to locked', 'let go of Stick'] },
    { from: 2, to: 0, by: ['in 5 s'] },
  ],
  partial: '',
}

describe('the drawing of states', () => {
  it('puts states apart, words at the ways, and a mark where it wakes', () => {
    for (const down of [false, true]) {
      const drawing = laid(states, down)
      expect(drawing.boxes).toHaveLength(3)
      expect(drawing.ways.map((way) => way.by[0])).toEqual(['press', 'press', 'in 5 s', 'wakes'])
      for (const [i, a] of drawing.boxes.entries())
        for (const b of drawing.boxes.slice(i + 1)) {
          const apart =
            Math.abs(a.x - b.x) >= (a.width + b.width) / 2 || Math.abs(a.y - b.y) >= (a.height + b.height) / 2
          expect(apart).toBe(true)
        }
      for (const box of drawing.boxes) expect(box.x + box.width / 2).toBeLessThanOrEqual(drawing.width)
      for (const way of drawing.ways) expect(way.path).not.toMatch(/undefined|NaN/)
    }
  })
  it('says two ways and how many more, and breaks long words', () => {
    expect(said(['press', 'Lock to locked', 'let go'])).toEqual(['press', 'Lock to locked', 'and 1 more'])
    expect(lines('press Left button, with Lock at free', 18)).toEqual([
      'press Left button,',
      'with Lock at free',
    ])
    expect(lines('Donaudampfschifffahrtsgesellschaft', 10)).toEqual(['Donaudamp…'])
  })
})

const strip: Strip = {
  key: 'logic/x',
  label: 'X',
  kind: 'truth',
  names: [],
  first: 0,
  frames: [10, 20, 40],
  values: [1, 0, 1],
}

describe('the record', () => {
  it('finds what something was in a frame', () => {
    expect([5, 10, 19, 20, 39, 40, 99].map((frame) => valueAt(strip, frame))).toEqual([0, 1, 1, 0, 0, 1, 1])
    expect(place([], 5)).toBe(-1)
  })
  it('finds the nearest change that is near enough', () => {
    expect(nearestEdge(strip, 12, 5)).toBe(10)
    expect(nearestEdge(strip, 16, 5)).toBe(20)
    expect(nearestEdge(strip, 30, 5)).toBeUndefined()
    expect(nearestEdge({ ...strip, frames: [], values: [] }, 30, 5)).toBeUndefined()
  })
})

describe('places of a sentence', () => {
  const of = (own: Partial<Place>): Place => ({
    key: 'x',
    label: 'X',
    kind: 'one',
    of: '',
    values: [],
    choices: [],
    names: [],
    from: '',
    unit: '',
    least: 0,
    most: 0,
    optional: false,
    ...own,
  })
  it('has its own choices, those of a list, and those of the rows of another', () => {
    const rows = of({ key: 'steps', kind: 'rows', names: ['State', 'Value'] })
    const wakes = of({ key: 'wakes', from: 'steps', choices: [{ value: 'kept', label: 'as it was left' }] })
    const values = { steps: ['under_way', '10', 'towing', '20'] }
    expect(choicesOf(wakes, [rows, wakes], {}, values).map((one) => one.label)).toEqual([
      'as it was left',
      'under way',
      'towing',
    ])
    const switched = of({ of: 'output' })
    expect(choicesOf(switched, [switched], { output: [{ value: 'a', label: 'A' }] }, {})).toEqual([
      { value: 'a', label: 'A' },
    ])
  })
  it('reads a movement as a condition, and turns one round', () => {
    expect(condition('lock.free', 'free')).toBe('lock.free')
    expect(condition('stick', 80)).toBe('stick>30')
    expect(condition('stick', -80)).toBe('stick<-30')
    expect(opposite('lock.free')).toBe('not lock.free')
    expect(opposite('not lock.free')).toBe('lock.free')
    expect(rowsOf(['a', '1', 'b', '2'], 2)).toEqual([
      ['a', '1'],
      ['b', '2'],
    ])
    expect(rowsOf(['a'], 0)).toEqual([])
  })
})
