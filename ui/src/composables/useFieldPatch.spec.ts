import { describe, expect, it } from 'vitest'

import type { Field } from '../api/client'
import { fieldPatch } from './useFieldPatch'

function field(over: Partial<Field> = {}, present = true): Field {
  const target = {
    pointer: '/outputs/1/low',
    path: 'outputs[1].low',
    list_id: 'starboard',
    id_at: '/outputs/1/id',
    present,
    sign: 1,
  }
  return {
    name: 'low',
    label: 'low',
    kind: 'number',
    value: -96,
    text: '',
    usual: -100,
    always: false,
    min: -150,
    max: 150,
    step: 1,
    unit: '%',
    targets: [target],
    ...over,
  }
}

const test = { op: 'test', path: '/outputs/1/id', value: 'starboard' }

describe('fieldPatch', () => {
  it('tests the id, then adds', () => {
    expect(fieldPatch(field(), -80)).toEqual([test, { op: 'add', path: '/outputs/1/low', value: -80 }])
  })

  it('removes a field that goes back to what is usual', () => {
    expect(fieldPatch(field(), -100)).toEqual([test, { op: 'remove', path: '/outputs/1/low' }])
    expect(fieldPatch(field({}, false), -100)).toEqual([])
  })

  it('writes a value that the document must have even where it is usual', () => {
    expect(fieldPatch(field({ always: true }), -100)).toHaveLength(2)
  })

  it('sets every target, each with its sign', () => {
    const one = field().targets[0]!
    const both = field({ usual: 100, targets: [one, { ...one, pointer: '/mixes/3/gain', sign: -1 }] })
    expect(
      fieldPatch(both, 70)
        .filter((op) => op.op === 'add')
        .map((op) => op.value),
    ).toEqual([70, -70])
  })

  it('turns a yes or no into true, or takes it out', () => {
    const turned = field({ kind: 'yes_no', usual: 0 })
    expect(fieldPatch(turned, true)[1]).toMatchObject({ op: 'add', value: true })
    expect(fieldPatch(turned, false)[1]).toMatchObject({ op: 'remove' })
  })

  it('leaves out what may be empty, and starts a group with its seed', () => {
    expect(fieldPatch(field({ optional: true }), '')[1]).toMatchObject({ op: 'remove' })
    expect(fieldPatch(field({ kind: 'text' }, false), '')).toEqual([])
    const group = field({ kind: 'yes_no', seed: { mode: 'hold' } }, false)
    expect(fieldPatch(group, true)[1]).toMatchObject({ op: 'add', value: { mode: 'hold' } })
  })

  it('sets a reference to a part or to a number, and a choice to what the document has for it', () => {
    const from = field({ kind: 'reference', always: true, choices: [{ value: 'drive', label: 'Drive' }] })
    expect(fieldPatch(from, 'drive')[1]).toMatchObject({ value: 'drive' })
    expect(fieldPatch(from, '−40')[1]).toMatchObject({ value: -40 })
    const loss = field({
      kind: 'choice',
      choices: [
        { value: '', label: 'nothing' },
        { value: 'preset', label: 'go', json: { mode: 'preset', value: 0 } },
      ],
    })
    expect(fieldPatch(loss, 'preset')[1]).toMatchObject({ value: { mode: 'preset', value: 0 } })
    expect(fieldPatch(loss, '')[1]).toMatchObject({ op: 'remove' })
  })

  it('makes the group that a field needs first', () => {
    const made = field({}, false)
    made.targets[0]!.list_id = ''
    made.targets[0]!.make = '/link'
    expect(fieldPatch(made, 7)).toEqual([
      { op: 'add', path: '/link', value: {} },
      { op: 'add', path: '/outputs/1/low', value: 7 },
    ])
  })

  it('writes a table as the document has it', () => {
    const number = (name: string) => ({ ...field(), name, targets: [] })
    const word = (name: string) => ({ ...field({ kind: 'text' }), name, targets: [] })
    const rows = (shape: 'pairs' | 'records' | 'groups' | 'plain', columns: Field[], value: string[][]) => {
      const patch = fieldPatch(field({ kind: 'rows', shape, columns }), value)
      return patch[1]?.value
    }
    expect(rows('pairs', [number('in'), number('out')], [['-100', '−90']])).toEqual([[-100, -90]])
    expect(rows('records', [word('name'), number('value'), word('label')], [['low', '5', '']])).toEqual([
      { name: 'low', value: 5 },
    ])
    expect(
      rows(
        'groups',
        [word('track'), number('t'), number('v')],
        [
          ['door', '0', '-100'],
          ['leg', '0.5', '1'],
          ['door', '1', '80'],
        ],
      ),
    ).toEqual({
      door: [
        [0, -100],
        [1, 80],
      ],
      leg: [[0.5, 1]],
    })
    expect(rows('plain', [number('entry')], [['3'], ['4']])).toEqual([3, 4])
    expect(fieldPatch(field({ kind: 'rows', shape: 'pairs', columns: [] }), [])[1]).toMatchObject({
      op: 'remove',
    })
  })
})
