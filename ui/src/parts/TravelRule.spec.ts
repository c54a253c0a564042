import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import TravelRule from './TravelRule.vue'

const rule = {
  from: -120,
  to: 120,
  low: -96,
  centre: 3,
  high: 94,
  wakes: 0,
  loss: 0,
  marks: [{ at: 100, us: 2000 }],
}

describe('TravelRule', () => {
  it('says in words what it draws', () => {
    const wrapper = mount(TravelRule, { props: { rule, p: -69.4, name: 'Starboard', tall: true } })
    const said = () => wrapper.get('svg').attributes('aria-label')
    expect(said()).toBe('Starboard stands at −69.4 percent, ends −96 and 94, centre 3')
  })

  it('says the same of a row whatever moves: the pulse stands beside it', async () => {
    const wrapper = mount(TravelRule, { props: { rule, p: -69.4, name: 'Starboard' } })
    const said = () => wrapper.get('svg').attributes('aria-label')
    expect(said()).toBe('Travel of Starboard, ends −96 and 94, centre 3')
    const before = wrapper.get('.now').attributes('style')
    await wrapper.setProps({ p: 20 })
    expect(said()).toBe('Travel of Starboard, ends −96 and 94, centre 3')
    expect(wrapper.get('.now').attributes('style')).not.toBe(before)
  })

  it('shows percent and microseconds where there is room', () => {
    const wrapper = mount(TravelRule, { props: { rule, p: 0, name: 'x', tall: true } })
    expect(wrapper.text()).toContain('+100')
    expect(wrapper.text()).toContain('2000')
    expect(wrapper.findAll('.grip')).toHaveLength(3)
  })

  it('keeps the pointer on the ruler', () => {
    const far = mount(TravelRule, { props: { rule, p: 400, name: 'x' } })
      .get('.now')
      .attributes('d')
    const end = mount(TravelRule, { props: { rule, p: 120, name: 'x' } })
      .get('.now')
      .attributes('d')
    expect(far).toBe(end)
  })
})
