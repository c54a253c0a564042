import { describe, expect, it } from 'vitest'

import { at, bytes, side } from './field'

/** A field that holds x to the side and y upwards, added and halved. */
const field = new Uint8Array(side * side)
for (let row = 0; row < side; row++)
  for (let col = 0; col < side; col++)
    field[row * side + col] = 100 + Math.round((col * 2 - 100 + (100 - row * 2)) / 2)

describe('a field', () => {
  it('is read out of base 64', () => {
    expect([...bytes(btoa('\x00\x64\xc8'))]).toEqual([0, 100, 200])
  })

  it('gives what it holds at a place of the stick', () => {
    expect(at(field, 0, 0)).toBe(0)
    expect(at(field, 100, 100)).toBe(100)
    expect(at(field, -100, -100)).toBe(-100)
    expect(at(field, 100, -100)).toBe(0)
    expect(at(field, 60, 20)).toBe(40)
  })

  it('takes the nearest point', () => {
    expect(at(field, 60.7, 20.6)).toBe(at(field, 60, 20))
  })
})
