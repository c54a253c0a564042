import { describe, expect, it } from 'vitest'

import { figure, isFigure, percent, pulse, setting, typed } from './figures'

describe('figures', () => {
  it('writes one decimal and a real minus sign, and never a negative zero', () => {
    expect([percent(30.41), percent(-72.349), percent(0), percent(-0.04)]).toEqual([
      '+30.4',
      '−72.3',
      '0.0',
      '0.0',
    ])
    expect(pulse(1652)).toBe('1652.0')
    expect([figure(5, '%'), figure(1500, 'µs')]).toEqual(['+5.0', '1500.0'])
  })

  it('reads back what it writes, and what people type', () => {
    for (const v of [-96, 0, 12.5, 0.1]) expect(typed(setting(v))).toBe(v)
    expect([typed('−80'), typed('-80'), typed(' +7,5 '), typed('.5')]).toEqual([-80, -80, 7.5, 0.5])
  })

  it('takes thousands, dashes and the unit that is meant', () => {
    expect([
      typed('1 500'),
      typed('1\u202f500 µs', 'µs'),
      typed('1500µs', 'µs'),
      typed('12 345 678'),
    ]).toEqual([1500, 1500, 1500, 12345678])
    expect([typed('94.5 %', '%'), typed('–30'), typed('− 30')]).toEqual([94.5, -30, undefined])
    expect([typed('1500 µs', '%'), typed('1 50'), typed('1 5000'), typed('%', '%')]).toEqual(
      Array(4).fill(undefined),
    )
  })

  it('takes nothing else for a number', () => {
    for (const text of ['', 'abc', '1e5', '--3', '5%', '1.2.3', 'Infinity'])
      expect(typed(text)).toBeUndefined()
  })

  it('tells figures from words', () => {
    expect(['+96', '−3.0', '1, 1', 'keep the turn', 'normal'].map(isFigure)).toEqual([
      true,
      true,
      true,
      false,
      false,
    ])
  })
})
