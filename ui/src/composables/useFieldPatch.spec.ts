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
    const turned = field({ kind: 'yes_no' })
    expect(fieldPatch(turned, true)[1]).toMatchObject({ op: 'add', value: true })
    expect(fieldPatch(turned, false)[1]).toMatchObject({ op: 'remove' })
  })
})
