import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import { describe, expect, it } from 'vitest'

import type { Picture, Piece } from '../api/client'
import { useBench } from '../stores/bench'
import { useStage } from '../stores/stage'
import { sceneOf, way, type Pose } from './numbers'
import { drawing } from './shapes'
import StageDock from './StageDock.vue'
import StagePart from './StagePart.vue'
import StageRow from './StageRow.vue'

const piece = (more: Partial<Piece>): Piece => ({
  part: 'track',
  label: 'Port track',
  moves: 'turns',
  on: -1,
  row: false,
  ahead: 0,
  side: -100,
  length: 300,
  width: 50,
  low: 0,
  high: 0,
  driven: true,
  motor: false,
  device: 'port',
  line: 'port_track',
  word: '',
  shape: '',
  ...more,
})
const pose = (more: Partial<Pose>): Pose => ({ at: 0, other: 0, asked: 0, flags: 0, turn: 0, ...more })
const flag = { lost: 1, pushes: 2, at_stop: 4, moves_free: 8, clashes: 64, brakes: 128 }
const where = {
  x: 0,
  y: 1,
  heading: 2,
  free: 5,
  asked: 6,
  taken: 9,
  pivot: 12,
  first: 15,
  each: 5,
  bits: flag,
}
const picture = (...parts: Piece[]): Picture => ({
  where,
  craft: 'tracked',
  view: 'above',
  goes: true,
  span: 1000,
  scale: 200,
  base: 0,
  kinds: [],
  parts,
  faults: [],
})
const draw = (p: Piece, at: Pose, side = false) =>
  mount(StagePart, { props: { piece: p, pose: at, side, upright: 0, unit: 1, hatch: 'h', bits: flag } })

describe('sceneOf', () => {
  it('names the numbers in the order of the contract', () => {
    const numbers = [10, 20, 30, 40, 50, 1, 1, 2, 3, 4, 5, 6, 7, 8, 1, 60, 0.5, 61, 5, 60]
    const scene = sceneOf(picture(piece({})), [99, 98, ...numbers], 2)
    expect([scene.x, scene.y, scene.heading, scene.free]).toEqual([10, 20, 30, true])
    expect(scene.asked).toEqual({ ahead: 1, side: 2, radius: 3 })
    expect(scene.taken).toEqual({ ahead: 4, side: 5, radius: 6 })
    expect(scene.pivot).toEqual({ ahead: 7, side: 8 })
    expect(scene.poses).toEqual([{ at: 60, other: 0.5, asked: 61, flags: 5, turn: 60 }])
  })

  it('has no pivot where the model goes straight', () => {
    expect(sceneOf(picture(), new Array(15).fill(0), 0).pivot).toBeUndefined()
  })
})

describe('way', () => {
  it('is straight without a radius, and else an arc to its side', () => {
    expect(way({ ahead: 100, side: 0, radius: 0 })).toBe('M0 0 L0 -100')
    expect(way({ ahead: 100, side: 20, radius: 300 })).toBe('M0 0 A300 300 0 0 1 20 -100')
    expect(way({ ahead: 100, side: -20, radius: -300 })).toBe('M0 0 A300 300 0 0 0 -20 -100')
    expect(way({ ahead: 1, side: 0, radius: 0 }, 15)).toBe('M0 0 L0 -15')
  })
})

describe('StagePart', () => {
  it('shows which way a track turns, and nothing while it stands', () => {
    expect(draw(piece({}), pose({})).find('.arrow').exists()).toBe(false)
    const ahead = draw(piece({}), pose({ at: 50, turn: 50 })).get('.arrow')
    const line = ahead.get('line').attributes()
    expect(Number(line.y2)).toBeLessThan(Number(line.y1))
    expect(ahead.attributes('transform')).toBeUndefined()
    const back = draw(piece({}), pose({ at: -50, turn: -50 })).get('.arrow')
    expect(back.attributes('transform')).toBe('scale(1 -1)')
  })

  it('shows that a part stands at its stop', () => {
    const boom = piece({ part: 'boom', moves: 'swings', low: 0, high: 80 })
    expect(
      draw(boom, pose({ at: 80, asked: 80, flags: flag.at_stop }), true)
        .find('.atStop')
        .exists(),
    ).toBe(true)
    expect(
      draw(boom, pose({ at: 40, asked: 40 }), true)
        .find('.atStop')
        .exists(),
    ).toBe(false)
  })

  it('draws in outline what nothing drives', () => {
    expect(
      draw(piece({ driven: false, device: '' }), pose({}))
        .find('.undriven')
        .exists(),
    ).toBe(true)
  })

  it('marks what pushes, what is lost and what moves with hands off', () => {
    const all = draw(piece({}), pose({ flags: flag.pushes | flag.lost | flag.moves_free }))
    expect(all.find('.push').text()).toBe('!')
    expect(all.find('.cross').exists()).toBe(true)
    expect(all.find('.freeRing').exists()).toBe(true)
    const none = draw(piece({}), pose({}))
    expect(none.find('.push, .cross, .freeRing').exists()).toBe(false)
  })

  it('draws what is asked dashed, and what a loss brings hatched', () => {
    const boom = piece({ part: 'boom', moves: 'swings', low: 0, high: 80, lost: 10 })
    const away = draw(boom, pose({ at: 30, asked: 60 }), true)
    expect(away.get('.ghost').attributes('transform')).toBe('rotate(-60)')
    expect(away.get('.lost').attributes('transform')).toBe('rotate(-10)')
    expect(
      draw(boom, pose({ at: 30, asked: 30 }), true)
        .find('.ghost')
        .exists(),
    ).toBe(false)
  })

  it('turns a rudder so that its trailing edge goes to the side of the turn', () => {
    const rudder = piece({ part: 'rudder', moves: 'swings', low: -35, high: 35 })
    const drawn = draw(rudder, pose({ at: 20, asked: 20 }))
    expect(drawn.html()).toContain('rotate(160)')
  })

  it('turns both wheels of an axle, each by its own angle, and marks a driven one', () => {
    const axle = piece({ part: 'axle', moves: 'swings', motor: true, low: -30, high: 30 })
    const drawn = draw(axle, pose({ at: 18, other: 22, asked: 20, turn: 60 }))
    const turns = drawn.findAll('rect.solid').map((wheel) => wheel.attributes('transform'))
    expect(turns).toEqual(['rotate(18)', 'rotate(22)'])
    expect(drawn.find('.powered').exists()).toBe(true)
    expect(drawn.findAll('.arrow')).toHaveLength(2)
  })

  it('lights a lamp and says the word of a horn', () => {
    const lamp = piece({ part: 'lamp', moves: 'shines' })
    expect(
      draw(lamp, pose({ at: 1 }))
        .find('.lit .rays')
        .exists(),
    ).toBe(true)
    expect(
      draw(lamp, pose({ at: 0 }))
        .find('.lit')
        .exists(),
    ).toBe(false)
    const horn = piece({ part: 'horn', moves: 'shines', word: 'toot' })
    expect(draw(horn, pose({ at: 1 })).text()).toContain('toot')
    expect(
      draw(horn, pose({ at: 0 }))
        .find('.sound')
        .exists(),
    ).toBe(false)
  })

  it('draws a rudder against thirty degrees, a light where it is seen, and wheels that are held', () => {
    const rudder = draw(piece({ part: 'rudder', moves: 'swings' }), pose({}))
    expect(rudder.find('.scale').exists()).toBe(true)
    const mast = piece({ part: 'lamp', moves: 'shines', arc: [-112.5, 112.5] })
    expect(
      draw(mast, pose({ at: 1 }))
        .get('.seen')
        .attributes('d'),
    ).toContain(' 0 1 1 ')
    expect(
      draw(mast, pose({ at: 0 }))
        .find('.seen')
        .exists(),
    ).toBe(false)
    const axle = piece({ part: 'axle', moves: 'swings' })
    expect(draw(axle, pose({ flags: flag.brakes })).findAll('.braked')).toHaveLength(2)
  })

  it('lets a hook hang straight down from what swings', () => {
    const hook = piece({ part: 'hook', moves: 'slides' })
    expect(draw(hook, pose({ at: 120, other: -30 }), true).html()).toContain('rotate(30)')
  })
})

describe('StageDock', () => {
  it('gives the picture a name before the server has said what it shows', async () => {
    setActivePinia(createPinia())
    const bench = useBench()
    const stage = useStage()
    bench.whole = { stage: picture(piece({})), stage_at: 0 } as typeof bench.whole
    const dock = mount(StageDock, { global: { directives: { tooltip: () => undefined } } })
    const label = () => dock.get('svg[role=img]').attributes('aria-label')
    expect(label()).toBe('The model on its ground')
    stage.words = { head: 'Stands.', more: ['Nothing moves.'], row: [] }
    await nextTick()
    expect(label()).toBe('Stands. Nothing moves.')
  })
})

describe('StageRow', () => {
  it('says beside each part in the row what the server says of it, in its order', () => {
    const parts = [
      piece({ label: 'Gear', row: true, part: 'dial', moves: 'dials', low: -100, high: 100 }),
      piece({ label: 'On the model' }),
      piece({ label: 'Pump', row: true, part: 'pump' }),
    ]
    const poses = [pose({ at: -60 }), pose({}), pose({ at: 40, flags: flag.moves_free })]
    const row = mount(StageRow, {
      props: { picture: picture(...parts), poses, words: ['−60, pushes at its stop', 'runs at 40'] },
    })
    expect(row.findAll('li').map((li) => li.text())).toEqual([
      'Gear −60, pushes at its stop',
      'Pump runs at 40',
    ])
    expect(row.findAll('li').map((li) => li.classes('free'))).toEqual([false, true])
  })

  it('draws what it has no words for yet', () => {
    const row = mount(StageRow, {
      props: { picture: picture(piece({ label: 'Gear', row: true })), poses: [pose({})], words: [] },
    })
    expect(row.text()).toBe('Gear')
  })
})

describe('drawing', () => {
  const hulls = {
    above: ['boat', 'car', 'truck', 'cab', 'bed', 'tracked', 'house', 'round'],
    side: ['submarine', 'amphibian', 'tracks', 'house', 'cab', 'portal', 'tower', 'round', 'boat'],
  }
  const parts = ['rudder', 'plane', 'mast', 'door', 'leg', 'ramp', 'boom', 'bucket', 'blade', 'drum', 'hook']

  it('gives every hull an outline of its own with thinner lines, and no figure that is none', () => {
    for (const [view, shapes] of Object.entries(hulls)) {
      const outlines = shapes.map((shape) => {
        const one = drawing(piece({ part: 'hull', shape, length: 300, width: 120 }), view === 'side')
        expect(one.thin, shape).not.toBe('')
        expect(one.outline + one.thin, shape).not.toMatch(/NaN|undefined|Infinity/)
        return one.outline + one.thin
      })
      const same = view === 'side' ? 1 : 0 // a boat and an amphibian from the side are one
      expect(new Set(outlines).size).toBe(shapes.length - same)
    }
  })

  it('draws a hull of no known shape plainly, and every other part', () => {
    expect(drawing(piece({ part: 'hull', shape: 'plain' }), true).thin).toBe('')
    for (const part of parts)
      for (const side of [true, false])
        expect(drawing(piece({ part }), side).outline, part).toMatch(/^M[^NaU]*$/)
  })
})

it('a level is as full as it stands, with where it is asked to be', () => {
  const tank = piece({ part: 'dial', moves: 'dials', length: 100, width: 40, low: -100, high: 100 })
  const own = draw(tank, pose({ at: 0, asked: 100 }), true)
  expect(Number(own.find('.level').attributes('height'))).toBe(20)
  expect(Number(own.find('.ghost').attributes('y1'))).toBe(-20)
})

it('an arrow says how fast, upright', () => {
  const own = draw(piece({ part: 'screw' }), pose({ at: -62 }))
  expect(own.find('.arrow text').text()).toBe('62')
  expect(own.find('.wash').exists()).toBe(true)
})
