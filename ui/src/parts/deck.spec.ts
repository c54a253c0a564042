import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import type { Control } from '../api/client'
import DeckKnob from './DeckKnob.vue'
import DeckLever from './DeckLever.vue'
import DeckSwitch from './DeckSwitch.vue'
import { others, pads } from './deckPlaces'
import DeckPulled from './DeckPulled.vue'
import GamepadDialog from './GamepadDialog.vue'
import StickPad from './StickPad.vue'

const base = { label: 'x', value: 0, rest: 0 }
const winch: Control = {
  ...base,
  id: 'winch',
  kind: 'switch',
  spring: 'hold',
  positions: ['haul', 'hold', 'pay'],
}
const lamp: Control = { ...base, id: 'lamp', kind: 'switch', spring: '', positions: ['dark', 'lit'] }
const drive: Control = { ...base, id: 'drive', kind: 'axis', spring: 'centre', along: 'y', stick: 'right' }

function pointer(type: string, id: number, more: PointerEventInit = {}) {
  return new PointerEvent(type, {
    pointerId: id,
    pointerType: 'touch',
    bubbles: true,
    cancelable: true,
    ...more,
  })
}

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

function seated(control: Control, at: string) {
  const moves: string[] = []
  const own = mount(DeckSwitch, {
    props: {
      control,
      at,
      hint: '',
      onMove: (set: Record<string, string>) => {
        moves.push(...Object.values(set))
        void own.setProps({ at: Object.values(set)[0] })
      },
    },
    attachTo: document.body,
  })
  return { own, moves, button: own.findAll('button')[0]!.element }
}

describe('a held switch', () => {
  it('stays held while another finger comes and goes', async () => {
    const { own, moves, button } = seated(winch, 'hold')
    button.dispatchEvent(pointer('pointerdown', 1))
    vi.advanceTimersByTime(200)
    window.dispatchEvent(pointer('pointerup', 2))
    button.dispatchEvent(pointer('pointerdown', 2))
    button.dispatchEvent(pointer('pointerup', 2))
    expect(moves).toEqual(['haul'])
    await own.vm.$nextTick()
    button.dispatchEvent(pointer('pointerup', 1))
    expect(moves).toEqual(['haul', 'hold'])
    own.unmount()
  })

  it.each(['pointercancel', 'lostpointercapture'])('lets go on %s', async (type) => {
    const { own, moves, button } = seated(winch, 'hold')
    button.dispatchEvent(pointer('pointerdown', 1))
    vi.advanceTimersByTime(200)
    await own.vm.$nextTick()
    button.dispatchEvent(pointer(type, 1))
    expect(moves).toEqual(['haul', 'hold'])
    own.unmount()
  })

  it('lets go when the focus leaves it while a key holds it, and when the page loses the focus', async () => {
    const { own, moves, button } = seated(winch, 'hold')
    button.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', code: 'Space' }))
    await own.vm.$nextTick()
    button.dispatchEvent(new FocusEvent('blur'))
    expect(moves).toEqual(['haul', 'hold'])
    await own.vm.$nextTick()
    button.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', code: 'Space' }))
    await own.vm.$nextTick()
    window.dispatchEvent(new Event('blur'))
    expect(moves).toEqual(['haul', 'hold', 'haul', 'hold'])
    own.unmount()
  })

  it('lets go where it is taken off the page', async () => {
    const { own, moves, button } = seated(winch, 'hold')
    button.dispatchEvent(pointer('pointerdown', 1))
    vi.advanceTimersByTime(200)
    await own.vm.$nextTick()
    own.unmount()
    expect(moves).toEqual(['haul', 'hold'])
  })

  it.each(['touch', 'mouse'])('answers a quick tap of a %s for some frames, and a voice', async (with_) => {
    const { own, moves, button } = seated(winch, 'hold')
    button.dispatchEvent(pointer('pointerdown', 1, { pointerType: with_ }))
    button.dispatchEvent(pointer('pointerup', 1, { pointerType: with_ }))
    expect(moves).toEqual(['haul'])
    await own.vm.$nextTick()
    vi.advanceTimersByTime(120)
    expect(moves).toEqual(['haul', 'hold'])
    await own.vm.$nextTick()
    button.dispatchEvent(new MouseEvent('click', { detail: 0 }))
    expect(moves.at(-1)).toBe('haul')
    await own.vm.$nextTick()
    vi.advanceTimersByTime(500)
    expect(moves.at(-1)).toBe('hold')
    own.unmount()
  })
})

describe('a swipe over the switches', () => {
  it('holds no sprung one and throws no other', () => {
    for (const [control, at] of [
      [winch, 'hold'],
      [lamp, 'lit'],
    ] as const) {
      const { own, moves, button } = seated(control, at)
      button.dispatchEvent(pointer('pointerdown', 1, { clientX: 10 }))
      button.dispatchEvent(pointer('pointermove', 1, { clientX: 40 }))
      button.dispatchEvent(pointer('pointercancel', 1))
      vi.advanceTimersByTime(500)
      expect(moves).toEqual([])
      own.unmount()
    }
  })
})

describe('a stick', () => {
  function pad() {
    const moves: number[] = []
    const own = mount(StickPad, {
      props: {
        name: 'Right stick',
        along: drive,
        hands: { drive: 0 },
        hint: '',
        onMove: (set: Record<string, number>) => {
          moves.push(set.drive!)
          void own.setProps({ hands: { drive: set.drive! } })
        },
      },
      attachTo: document.body,
    })
    return { own, moves, svg: own.find('svg').element }
  }

  it('is moved by the finger that took it alone', () => {
    const { own, moves, svg } = pad()
    svg.dispatchEvent(pointer('pointerdown', 1, { clientY: -30 }))
    const held = moves.length
    svg.dispatchEvent(pointer('pointerdown', 2, { clientY: 500 }))
    svg.dispatchEvent(pointer('pointermove', 2, { clientY: 400 }))
    svg.dispatchEvent(pointer('pointerup', 2))
    expect(moves).toHaveLength(held)
    svg.dispatchEvent(pointer('pointermove', 1, { clientY: -20 }))
    expect(moves.length).toBe(held + 1)
    svg.dispatchEvent(pointer('pointercancel', 1))
    expect(moves.at(-1)).toBe(0)
    own.unmount()
  })

  const turn: Control = {
    ...base,
    id: 'turn',
    kind: 'axis',
    spring: 'centre',
    along: 'x',
    stick: 'right',
    label: 'Turn',
    plus: 'right',
    minus: 'left',
  }
  const ahead: Control = { ...drive, label: 'Drive', plus: 'forward', minus: 'back' }

  function both(hands = { drive: 0, turn: 0 } as Record<string, number>) {
    const own = mount(StickPad, {
      props: {
        name: 'Right stick',
        along: ahead,
        across: turn,
        hands,
        hint: '',
        onMove: (set: Record<string, number>) =>
          void own.setProps({ hands: { ...own.props('hands'), ...set } }),
      },
      attachTo: document.body,
    })
    const press = async (slider: number, key: string, more: KeyboardEventInit = {}) => {
      own
        .findAll('input')
        [slider]!.element.dispatchEvent(
          new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }),
        )
      await own.vm.$nextTick()
      return own.props('hands') as Record<string, number>
    }
    return { own, press }
  }

  it('is two sliders in a group for a reader of the page, each with its ways in words', () => {
    const { own } = both({ drive: -40, turn: 0 })
    expect(own.get('[role=group]').attributes('aria-label')).toBe('Right stick')
    const sliders = own.findAll('input[type=range]').map((slider) => slider.attributes())
    expect(sliders.map((s) => [s['aria-label'], s['aria-valuetext'], s['aria-orientation']])).toEqual([
      ['Drive', 'back 40 percent', 'vertical'],
      ['Turn', 'in the middle', 'horizontal'],
    ])
    expect(own.get('svg').attributes('aria-hidden')).toBe('true')
    own.unmount()
  })

  it('is moved along both axes by the arrow keys of either slider until it is let go of', async () => {
    const { own, press } = both()
    expect(await press(0, 'ArrowUp')).toEqual({ drive: 5, turn: 0 })
    expect(await press(0, 'ArrowLeft')).toEqual({ drive: 5, turn: -5 })
    expect(await press(1, 'ArrowUp', { shiftKey: true })).toEqual({ drive: 6, turn: -5 })
    own
      .findAll('input')[0]!
      .element.dispatchEvent(new KeyboardEvent('keyup', { key: 'ArrowUp', bubbles: true }))
    expect(own.props('hands')).toEqual({ drive: 6, turn: -5 })
    expect(await press(1, 'ArrowUp', { ctrlKey: true })).toEqual({ drive: 6, turn: -5 })
    expect(await press(1, 'Home')).toEqual({ drive: 0, turn: 0 })
    own.unmount()
  })

  it('goes no further than its ends, and back when the focus leaves it', async () => {
    const { own, press } = both({ drive: 98, turn: 0 })
    expect(await press(0, 'ArrowUp')).toEqual({ drive: 100, turn: 0 })
    const [first, second] = own.findAll('input').map((one) => one.element)
    first!.dispatchEvent(new FocusEvent('focusout', { relatedTarget: second!, bubbles: true }))
    expect(own.props('hands')).toEqual({ drive: 100, turn: 0 })
    second!.dispatchEvent(new FocusEvent('focusout', { relatedTarget: document.body, bubbles: true }))
    await own.vm.$nextTick()
    expect(own.props('hands')).toEqual({ drive: 0, turn: 0 })
    own.unmount()
  })

  it('takes what an aid gives a slider', async () => {
    const { own } = both()
    const slider = own.findAll('input')[1]!
    ;(slider.element as HTMLInputElement).value = '-30'
    await slider.trigger('input')
    expect(own.props('hands')).toEqual({ drive: 0, turn: -30 })
    own.unmount()
  })
})

describe('a lever', () => {
  it('springs back only where it is sprung, and says nothing where it rests', () => {
    for (const [spring, want] of [
      ['centre', [0]],
      ['none', []],
    ] as const) {
      const moves: number[] = []
      const own = mount(DeckLever, {
        props: {
          control: { ...drive, spring },
          at: 40,
          hint: '',
          onMove: (set: Record<string, number>) => {
            moves.push(set.drive!)
          },
        },
      })
      own.find('input').element.dispatchEvent(pointer('pointerdown', 1))
      own.find('input').element.dispatchEvent(pointer('pointerup', 2))
      expect(moves).toEqual([])
      own.find('input').element.dispatchEvent(pointer('pointerup', 1))
      expect(moves).toEqual(want)
      own.unmount()
    }
  })
})

describe('choosing a control by moving the gamepad', () => {
  it('ends with the dialog, however it is closed', async () => {
    const own = mount(GamepadDialog, {
      props: { visible: true, learning: 'winch', controls: [winch], mapping: {}, pad: 'A pad' },
      global: {
        stubs: {
          Dialog: { template: '<div><slot /></div>' },
          Button: { template: '<button><slot /></button>' },
        },
      },
    })
    expect(own.text()).toContain('Press it…')
    expect(own.emitted('update:learning')).toBeUndefined()
    await own.setProps({ visible: false })
    expect(own.emitted('update:learning')).toEqual([[undefined]])
  })
})

describe('a switch of two positions', () => {
  it('is thrown by a tap wherever the tap is', async () => {
    const { own, moves, button } = seated(lamp, 'dark')
    await own.find('[data-switch="lamp.dark"]').trigger('click')
    await own.find('[data-switch="lamp.dark"]').trigger('click')
    expect(moves).toEqual(['lit', 'dark'])
    expect(button.textContent?.replace(/\s+/g, ' ')).toBe('x: dark lit , at dark')
    own.unmount()
  })

  it('shows where it stands alone where there is little room', async () => {
    const three = { ...lamp, positions: ['dark', 'side', 'dipped'] }
    const { own, moves } = seated(three, 'dipped')
    await own.setProps({ small: true })
    const shown = own.findAll('[data-switch]').filter((one) => one.isVisible())
    expect(shown.map((one) => one.text())).toEqual(['dipped'])
    await own.find('button').trigger('click')
    expect(moves).toEqual(['dark'])
    own.unmount()
  })
})

it('a knob goes on with a tap, and both ways with the keys, never past its ends', async () => {
  const knob = { ...lamp, positions: ['a', 'b', 'c', 'd'] }
  const moves: unknown[] = []
  const own = mount(DeckKnob, {
    props: {
      control: knob,
      at: 'd',
      hint: '',
      onMove: (set: Record<string, string>) => moves.push(set.lamp),
    },
  })
  await own.find('button').trigger('keydown', { key: 'ArrowRight' })
  await own.find('button').trigger('keydown', { key: 'ArrowLeft' })
  await own.find('button').trigger('click')
  expect(moves).toEqual(['c', 'a'])
})

it('a wheel is pulled to the side and a trigger towards the hand, and both go back', async () => {
  for (const [form, pulled] of [
    ['wheel', { clientX: 44, clientY: 300 }],
    ['trigger', { clientX: 300, clientY: 22 }],
  ] as const) {
    const moves: unknown[] = []
    const own = mount(DeckPulled, {
      props: {
        control: { ...drive, stick: undefined, form },
        at: 0,
        hint: '',
        active: false,
        onMove: (set: Record<string, number>) => {
          moves.push(set.drive)
          void own.setProps({ at: set.drive })
        },
      },
      attachTo: document.body,
    })
    const svg = own.find('svg').element
    svg.setPointerCapture = () => {}
    svg.dispatchEvent(pointer('pointerdown', 1, { clientX: 0, clientY: 0 }))
    svg.dispatchEvent(pointer('pointermove', 1, pulled))
    await own.vm.$nextTick()
    svg.dispatchEvent(pointer('pointerup', 1, pulled))
    expect(moves).toEqual([50, 0])
    own.unmount()
  }
})

describe('where controls lie', () => {
  it('the sticks by their names, a wheel right and a trigger left, unless said otherwise', () => {
    const wheel: Control = { ...base, id: 'wheel', kind: 'axis', spring: 'centre', form: 'wheel' }
    const trigger: Control = { ...wheel, id: 'trigger', form: 'trigger' }
    const left = { ...drive, id: 'gas', stick: 'left' }
    expect(pads([drive, left, wheel, trigger]).map((one) => [one.key, one.side])).toEqual([
      ['stick.right', 'right'],
      ['stick.left', 'left'],
      ['wheel', 'right'],
      ['trigger', 'left'],
    ])
    expect(pads([{ ...wheel, lies: 'left' }])[0]?.side).toBe('left')
  })

  it('what lies left is left, what is not said is between', () => {
    const found = others([{ ...lamp, lies: 'right' }, winch, { ...winch, id: 'far', lies: 'left' }, drive])
    expect(found.map((one) => [one.side, one.controls.map((c) => c.id)])).toEqual([
      ['left', ['far']],
      ['between', ['winch']],
      ['right', ['lamp']],
    ])
  })
})
