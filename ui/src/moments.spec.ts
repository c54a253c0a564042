import { describe, expect, it } from 'vitest'

import { endOf, moment } from './moments'

describe('moments', () => {
  const now = new Date(2026, 10, 27, 15, 30)
  const at = (...of: [number, number, number, number, number]) => moment(new Date(...of).toISOString(), now)
  it('says what is near as people do', () => {
    expect(at(2026, 10, 27, 9, 5)).toMatch(/^today 09[:.]05$/)
    expect(at(2026, 10, 26, 23, 59)).toBe('yesterday')
    expect(at(2026, 10, 25, 9, 5)).toMatch(/25/)
    expect(at(2026, 10, 25, 9, 5)).not.toMatch(/2026/)
    expect(at(2025, 10, 25, 9, 5)).toMatch(/2025/)
  })
  it('ends a day at its last moment here, whatever the zone', () => {
    expect(new Date(endOf('2026-11-14')).getDate()).toBe(14)
    expect(new Date(endOf('2026-11-14')).getHours()).toBe(23)
  })
})
