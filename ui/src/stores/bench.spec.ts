import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, watch } from 'vue'

import type { Field, FromBench, Model, ToBench } from '../api/client'
import { useBench } from './bench'
import { useEdits } from './edits'
import { useJoint } from './joint'
import { useMixing } from './mixing'
import { useNotices } from './notices'
import { usePlayer } from './player'
import { useStage } from './stage'
import { useTrouble } from './trouble'
import { useWays } from './ways'

class FakeSocket {
  static OPEN = 1
  static all: FakeSocket[] = []
  readyState = 0
  sent: ToBench[] = []
  onopen?: () => void
  onmessage?: (event: { data: string }) => void
  onclose?: (event?: { code: number }) => void

  constructor(readonly url: string) {
    FakeSocket.all.push(this)
  }
  send(text: string) {
    this.sent.push(JSON.parse(text))
  }
  close() {}
  open() {
    this.readyState = 1
    this.onopen?.()
  }
  say(message: Partial<FromBench>) {
    this.onmessage?.({ data: JSON.stringify(message) })
  }
  lose(code = 1006) {
    this.readyState = 3
    this.onclose?.({ code })
  }
}

const model = { id: 'm', name: 'Stoat', revision: 1, unplayed: [] } as unknown as Model
const view = { controls: [{ id: 'drive', kind: 'axis', rest: 0 }], power: [], lines: [], blocks: [] } as never
const field = { at: 'out/horn/ends', name: 'low' } as Field
const patch = [{ op: 'add' as const, path: '/name', value: 'x' }]

function answer(status: number, body: unknown): Response {
  return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
}

let fetched: Request[]
let answers: (() => Response)[]

beforeEach(() => {
  setActivePinia(createPinia())
  FakeSocket.all = []
  fetched = []
  answers = []
  vi.stubGlobal('WebSocket', FakeSocket)
  vi.stubGlobal('fetch', async (request: Request) => {
    fetched.push(request)
    const next = answers.shift()
    if (!next) throw new TypeError('network')
    return next()
  })
  vi.useFakeTimers()
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

function seated() {
  const bench = useBench()
  const edits = useEdits()
  bench.open('m')
  const socket = FakeSocket.all[0]!
  socket.open()
  socket.say({ t: 'bench', model, view, values: [0, 1500] })
  return { bench, edits, socket }
}

describe('the bench', () => {
  it('says hello first and draws what the server says', () => {
    const { bench, socket } = seated()
    expect(socket.sent[0]).toMatchObject({ t: 'hello', set: {} })
    socket.say({ t: 'frame', at: [1], v: [1652] })
    vi.advanceTimersToNextFrame()
    expect(bench.values).toEqual([0, 1652])
  })

  it('draws once of however many frames came since the last picture', async () => {
    const { bench, socket } = seated()
    let drawn = 0
    watch(
      () => bench.values,
      () => drawn++,
      { flush: 'sync' },
    )
    for (let k = 0; k < 40; k++) socket.say({ t: 'frame', at: [k % 2], v: [k], waits: [k] })
    expect(bench.values).toEqual([0, 1500])
    vi.advanceTimersToNextFrame()
    expect(bench.values).toEqual([38, 39])
    expect(bench.waits).toEqual([39])
    expect(drawn).toBe(1)
    // what is told besides comes after what came before it
    socket.say({ t: 'frame', at: [0], v: [7] })
    socket.say({ t: 'beat' })
    expect(bench.values).toEqual([7, 39])
  })

  it('lets what is out of sight lag behind, but never into another layout', () => {
    const { bench, socket } = seated()
    expect(bench.calmed).toEqual([0, 1500])
    socket.say({ t: 'frame', at: [1], v: [1652] })
    vi.advanceTimersToNextFrame()
    expect(bench.values).toEqual([0, 1652])
    expect(bench.calmed).toEqual([0, 1500])
    vi.advanceTimersByTime(300)
    expect(bench.calmed).toEqual([0, 1652])
    // while all goes on changing it is drawn now and then
    let drawn = 0
    watch(
      () => bench.calmed,
      () => drawn++,
      { flush: 'sync' },
    )
    for (let k = 0; k < 250; k++) {
      socket.say({ t: 'frame', at: [1], v: [k] })
      vi.advanceTimersByTime(20)
    }
    expect(drawn).toBe(2)
    socket.say({ t: 'bench', model, view, values: [5, 6, 7] })
    expect(bench.calmed).toEqual([5, 6, 7])
    bench.close()
    expect(bench.calmed).toEqual([])
  })

  it('makes of what changed the whole, and leaves what has not changed as it was', () => {
    const { bench, socket } = seated()
    const joint = (key: string, caption: string) => ({ key, caption })
    const lines = [{ id: 'port' }, { id: 'horn', label: 'Horn' }]
    const blocks = [
      { title: 'Port', chains: [[joint('control/drive', 'Drive')]], rows: [] },
      {
        title: 'Horn',
        chains: [[joint('control/drive', 'Drive')]],
        share: joint('share/0', 'clip'),
        rows: [{ line: 'horn', joints: [joint('out/horn/ends', '-100'), joint('out/horn/pulse', 'pulse')] }],
      },
    ]
    const behind = [{ part: 'logic/a', label: 'A' }, { part: 'logic/b' }]
    const all = { controls: [], power: [], receivers: [], groups: [], name: 'Stoat', lines, blocks, behind }
    socket.say({ t: 'bench', model, view: all as never, values: [0, 1500], trying: 0 })
    const before = bench.view!
    const told: (number | undefined)[] = []
    bench.add({ take: { bench: (message) => told.push(message.trying) }, forget: () => {} })
    socket.say({ t: 'frame', at: [0], v: [7] })
    socket.say({
      t: 'changed',
      trying: 3,
      at: [1],
      v: [1250],
      n: 2,
      waits: [],
      changed: {
        lines: { horn: { id: 'horn', label: 'Bell' } },
        joints: { 1: { 'out/horn/ends': joint('out/horn/ends', '-50') } },
        behind: { 'logic/a': { part: 'logic/a', label: 'B' } },
      } as never,
    })
    expect(bench.values).toEqual([7, 1250])
    expect(told).toEqual([0, 3]) // as it stands when the place adds itself, and then
    const now = bench.view!
    expect(now.lines[0]).toBe(before.lines[0])
    expect(now.blocks[0]).toBe(before.blocks[0])
    expect(now.behind[1]).toBe(before.behind[1])
    expect(now).toMatchObject({
      name: 'Stoat',
      lines: [{ id: 'port' }, { label: 'Bell' }],
      behind: [{ label: 'B' }, {}],
    })
    expect(now.blocks[1]).toEqual({
      ...blocks[1],
      rows: [{ line: 'horn', joints: [joint('out/horn/ends', '-50'), joint('out/horn/pulse', 'pulse')] }],
    })
    expect(bench.model).toEqual(model)
  })

  it('numbers movements and comes back with the levers where they were', async () => {
    const { bench, socket } = seated()
    bench.move({ drive: 60 })
    expect(socket.sent.at(-1)).toEqual({ t: 'hands', n: 2, set: { drive: 60 } })
    socket.lose()
    await nextTick()
    expect(bench.connected).toBe(false)
    vi.advanceTimersByTime(400)
    FakeSocket.all[1]!.open()
    expect(FakeSocket.all[1]!.sent[0]).toMatchObject({ t: 'hello', n: 3, set: { drive: 60 } })
  })

  it('sends an edit that got no answer again under the same id', async () => {
    const { bench, edits } = seated()
    answers = [
      () => {
        throw new TypeError('network')
      },
      () => answer(503, { status: 503, title: 'The database does not answer' }),
      () => answer(200, { ...model, revision: 2 }),
    ]
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(5000)
    expect(await kept).toEqual({ kept: true })
    expect(fetched).toHaveLength(3)
    expect(new Set(fetched.map((r) => r.headers.get('Axtren-Edit'))).size).toBe(1)
    expect(fetched[0]!.headers.get('If-Match')).toBe('"1"')
    expect(bench.model?.revision).toBe(2)
  })

  it('says why an edit was refused and keeps the revision', async () => {
    const { bench, edits } = seated()
    answers = [() => answer(422, { status: 422, title: 'no', errors: [] })]
    const outcome = await edits.keep(patch)
    expect(outcome).toMatchObject({ kept: false, problem: { status: 422 } })
    expect(bench.model?.revision).toBe(1)
    edits.drop()
    expect(edits.notKept).toBeUndefined()
  })

  it('makes one edit after the other, each against the newest revision', async () => {
    const { edits } = seated()
    answers = [2, 3].map((revision) => () => answer(200, { ...model, revision }))
    await Promise.all([edits.keep(patch), edits.keep(patch)])
    expect(fetched.map((r) => r.headers.get('If-Match'))).toEqual(['"1"', '"2"'])
  })

  it('listens to the refusal of its newest trial alone', () => {
    const { edits, socket } = seated()
    edits.attempt(field, -80)
    edits.attempt(field, -81)
    expect(socket.sent.at(-1)).toEqual({ t: 'try', id: 2, part: 'out/horn/ends', field: 'low', value: -81 })
    socket.say({ t: 'refused', id: 1, problem: { status: 422, title: 'old', type: '' } })
    expect(edits.refused).toBeUndefined()
    socket.say({ t: 'refused', id: 2, problem: { status: 422, title: 'new', type: '' } })
    expect(edits.refused?.title).toBe('new')
  })

  it('asks when an edit met another one, and puts it on top of the newest revision', async () => {
    const { bench, edits } = seated()
    const since = [{ number: 2, words: 'Horn: low −80 → −70' }]
    answers = [
      () => answer(412, { status: 412, title: 'The model was changed meanwhile', since }),
      () => answer(200, { ...model, revision: 2 }),
      () => answer(200, { ...model, revision: 3 }),
    ]
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(10)
    expect(edits.clash?.problem.since).toEqual(since)
    edits.clash!.settle(true)
    expect(await kept).toEqual({ kept: true })
    expect(fetched[2]!.headers.get('If-Match')).toBe('"2"')
    expect(bench.model?.revision).toBe(3)
    expect(edits.clash).toBeUndefined()
  })

  it('drops an edit that met another one where that is wanted', async () => {
    const { edits } = seated()
    answers = [() => answer(412, { status: 412, title: 'The model was changed meanwhile', since: [] })]
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(10)
    edits.clash!.settle(false)
    expect(await kept).toMatchObject({ kept: false })
    expect(fetched).toHaveLength(1)
    expect(edits.notKept).toBeUndefined()
  })

  it('takes back what a later edit touched only if sure', async () => {
    const { edits } = seated()
    answers = [
      () => answer(409, { status: 409, type: 'urn:axtren:touched', title: 'touched', since: [] }),
      () => answer(200, model),
      () => answer(200, { ...model, revision: 2 }),
    ]
    const undone = edits.undo()
    await vi.advanceTimersByTimeAsync(10)
    edits.clash!.settle(true)
    expect(await undone).toEqual({ kept: true })
    expect(fetched.map((r) => new URL(r.url).searchParams.get('sure'))).toEqual(['false', null, 'true'])
  })

  it('shows what plays, and where it is', () => {
    const player = usePlayer()
    const { socket } = seated()
    socket.say({ t: 'played', play: { recording: 'r', at: 0, of: 100, run: 1, marks: [3] } })
    socket.say({ t: 'frame', at: [1], v: [7], play: { recording: 'r', at: 5, of: 100, run: 1 } })
    vi.advanceTimersToNextFrame()
    expect(player.playing).toEqual({ recording: 'r', at: 5, of: 100, run: 1, marks: [3] })
    socket.say({ t: 'played', play: { recording: '', at: 0, of: 0, run: 0 } })
    expect(player.playing).toBeUndefined()
  })

  it('takes only the answer to what was asked last, and none of a model as it was', () => {
    const ways = useWays()
    const { socket } = seated()
    const told = (of: string, does: string, lines: string[] = []) =>
      socket.say({ t: 'way', way: { of, does, looking: false, lines, plays: '' } })
    ways.ask({ device: 'horn', does: 'on' })
    ways.ask({ rule: 'logic/lit', node: 2 })
    expect(socket.sent.slice(-2)).toEqual([
      { t: 'way', device: 'horn', does: 'on' },
      { t: 'way', rule: 'logic/lit', node: 2 },
    ])
    told('devices/horn', 'on', ['Press it.'])
    expect(ways.answer).toBeUndefined()
    told('logic/lit', '1')
    expect(ways.answer).toBeUndefined()
    told('logic/lit', '2', ['Press it.'])
    expect(ways.answer?.lines).toEqual(['Press it.'])
    told('logic/lit', '1')
    expect(ways.asked).toBeDefined()
    told('logic/lit', '2')
    expect(ways.asked).toBeUndefined()
    expect(ways.answer).toBeUndefined()
    ways.ask({ output: 'pump' })
    told('outputs/pump', '', ['Wait.'])
    expect(ways.answer?.lines).toEqual(['Wait.'])
    ways.ask()
    expect(socket.sent.at(-1)).toEqual({ t: 'way' })
    expect(ways.answer).toBeUndefined()
  })

  it('holds no more after a night of frames', () => {
    const { bench, socket } = seated()
    const held = () => JSON.stringify({ ...bench.$state, fetched: 0 }).length
    const before = held()
    for (let k = 0; k < 100_000; k++) socket.say({ t: 'frame', n: k, at: [1], v: [1000 + (k % 1000)] })
    vi.advanceTimersToNextFrame()
    expect(bench.values).toEqual([0, 1999])
    expect(held()).toBe(before)
    expect(socket.sent).toHaveLength(1)
  })
})

describe('the stage and the pairs', () => {
  it('keeps the picture with the place of its numbers, and what is said of it', async () => {
    const bench = useBench()
    const stage = useStage()
    bench.open('m')
    await nextTick()
    const socket = FakeSocket.all[0]!
    socket.open()
    const picture = { view: 'above', parts: [] } as never
    socket.say({ t: 'bench', model, view, values: [1, 2, 3], stage: picture, stage_at: 1 })
    expect([stage.picture, stage.at]).toEqual([picture, 1])
    socket.say({ t: 'stage', words: { head: 'Ahead.', more: [], row: [] } })
    expect(stage.words?.head).toBe('Ahead.')
  })

  it('forgets the last drill when another one is wanted', async () => {
    const bench = useBench()
    const stage = useStage()
    bench.open('m')
    await nextTick()
    const socket = FakeSocket.all[0]!
    socket.open()
    socket.say({ t: 'drilled', drill: { kind: 'cut_link', of: 4, whole: true, lines: [] } })
    expect(stage.drill?.of).toBe(4)
    stage.play('switch_on')
    expect(stage.drill).toBeUndefined()
    expect(socket.sent.at(-1)).toEqual({ t: 'stage', drill: 'switch_on' })
    stage.putBack()
    expect(socket.sent.at(-1)).toEqual({ t: 'stage', drill: '' })
  })

  it('asks for the fields of its pair again after a lost connection', async () => {
    const bench = useBench()
    const mixing = useMixing()
    bench.open('m')
    await nextTick()
    FakeSocket.all[0]!.open()
    mixing.want({ first: 'a', second: 'b' })
    FakeSocket.all[0]!.lose()
    await vi.advanceTimersByTimeAsync(5000)
    const again = FakeSocket.all.at(-1)!
    again.open()
    expect(again.sent).toContainEqual({ t: 'mixing', first: 'a', second: 'b' })
    mixing.leave()
    expect(again.sent.at(-1)).toEqual({ t: 'mixing' })
  })
})

describe('what a place adds to the bench', () => {
  it('is told what it missed, asks again after a lost connection, and forgets what is left', async () => {
    const { bench, socket } = seated()
    const stage = useStage()
    const joint = useJoint()
    const trouble = useTrouble()
    expect(stage.at).toBe(0)
    joint.watch('out/horn/pulse')
    joint.watch('out/horn/pulse')
    joint.draw('drive', 'horn')
    trouble.complain('hums', 'horn')
    expect(socket.sent.slice(1)).toEqual([
      { t: 'watch', joint: 'out/horn/pulse' },
      { t: 'plot', control: 'drive', output: 'horn' },
      { t: 'trouble', complaint: 'hums', output: 'horn' },
    ])
    socket.say({ t: 'why', joint: 'out/horn/pulse', reason: { name: 'pulse', value: 1500, unit: 'µs' } })
    socket.say({ t: 'plot', points: [[0, 0, 1500]] })
    socket.say({ t: 'trouble', causes: [] })
    expect(joint.reason?.tree?.value).toBe(1500)
    expect(joint.plot).toHaveLength(1)
    expect(trouble.causes).toEqual([])
    socket.lose()
    await vi.advanceTimersByTimeAsync(400)
    FakeSocket.all[1]!.open()
    expect(FakeSocket.all[1]!.sent.map((m) => m.t)).toEqual(['hello', 'plot', 'watch'])
    bench.close()
    expect([joint.reason, joint.plot, trouble.causes, stage.picture]).toEqual(Array(4).fill(undefined))
  })
})

describe('a field', () => {
  it('is set by where it stands, and where it has the value already nothing is kept', async () => {
    const { edits, socket } = seated()
    answers = [
      () => answer(200, { ...model, revision: 2 }),
      () => answer(409, { status: 409, title: 'Nothing would change' }),
    ]
    expect(await edits.set(field, -80)).toEqual({ kept: true })
    expect(new URL(fetched[0]!.url).pathname).toBe('/api/models/m/acts')
    expect(await fetched[0]!.clone().json()).toEqual({
      act: 'set',
      part: 'out/horn/ends',
      field: 'low',
      value: -80,
    })
    edits.attempt(field, -80)
    expect(await edits.set(field, -80)).toEqual({ kept: true })
    expect(edits.notKept).toBeUndefined()
    expect(socket.sent.at(-1)).toEqual({ t: 'drop' })
  })
})

describe('edits of a model', () => {
  const other = { ...model, id: 'n', name: 'Marram', revision: 5 } as Model
  const offline = () => {
    throw new TypeError('network')
  }
  const paths = () => fetched.map((r) => new URL(r.url).pathname)

  function turnTo(bench: ReturnType<typeof useBench>, next: Model) {
    bench.close()
    bench.open(next.id)
    FakeSocket.all.at(-1)!.open()
    FakeSocket.all.at(-1)!.say({ t: 'bench', model: next, view, values: [] })
  }

  it('go to the model that they were made of, also after another one was opened', async () => {
    const { bench, edits } = seated()
    answers = [offline, () => answer(200, { ...model, revision: 2 })]
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(1)
    turnTo(bench, other)
    await vi.advanceTimersByTimeAsync(1000)
    expect(await kept).toEqual({ kept: true })
    expect(paths()).toEqual(['/api/models/m', '/api/models/m'])
    expect(fetched.map((r) => r.headers.get('If-Match'))).toEqual(['"1"', '"1"'])
    expect(bench.model).toEqual(other)
    expect(useNotices().list).toEqual([])
  })

  it('settle an open question when the model is left, say so, and hold up nothing after it', async () => {
    const { bench, edits } = seated()
    const since = [{ number: 2, words: 'Horn: low −80 → −70' }]
    answers = [() => answer(412, { status: 412, title: 'The model was changed meanwhile', since })]
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(10)
    expect(edits.clash).toBeDefined()
    turnTo(bench, other)
    expect(await kept).toMatchObject({ kept: false })
    expect(edits.clash).toBeUndefined()
    expect(useNotices().list.map((n) => n.words)).toEqual([
      'A change to Stoat was not saved: it met another change (Horn: low −80 → −70), and nobody decided.',
    ])
    answers = [() => answer(200, { ...other, revision: 6 })]
    expect(await edits.keep(patch)).toEqual({ kept: true })
    expect(paths()).toEqual(['/api/models/m', '/api/models/n'])
    expect(fetched[1]!.headers.get('If-Match')).toBe('"5"')
  })

  it('are said where they meet another change after the model was left', async () => {
    const { bench, edits } = seated()
    answers = [offline, () => answer(412, { status: 412, title: 'changed', since: [] })]
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(1)
    turnTo(bench, other)
    await vi.advanceTimersByTimeAsync(1000)
    expect(await kept).toMatchObject({ kept: false })
    expect(useNotices().list).toHaveLength(1)
    expect(edits.clash).toBeUndefined()
  })

  it('are sent again until somebody answers, and at once when the bench is back', async () => {
    const { edits, socket } = seated()
    answers = Array.from({ length: 12 }, () => offline)
    const kept = edits.keep(patch)
    await vi.advanceTimersByTimeAsync(20_000)
    expect(fetched.length).toBeGreaterThan(8)
    expect(edits.saving).toBe(1)
    expect(edits.notKept?.title).toBe('The server does not answer')
    answers = [() => answer(200, { ...model, revision: 2 })]
    const before = fetched.length
    socket.say({ t: 'bench', model, view, values: [] })
    await vi.advanceTimersByTimeAsync(1)
    expect(fetched.length).toBe(before + 1)
    expect(await kept).toEqual({ kept: true })
    expect(edits.notKept).toBeUndefined()
    const patches = fetched.filter((r) => r.method === 'PATCH')
    expect(new Set(patches.map((r) => r.headers.get('Axtren-Edit'))).size).toBe(1)
  })

  it('of a whole text are made against the revision that it was read at', async () => {
    const { edits, socket } = seated()
    socket.say({ t: 'bench', model: { ...model, revision: 9 }, view, values: [] })
    answers = [() => answer(200, { ...model, revision: 10 })]
    await edits.putText('name: x', 7)
    expect(fetched[0]!.headers.get('If-Match')).toBe('"7"')
  })
})

describe('a server that says nothing', () => {
  it('is asked, and after two seconds it is said', async () => {
    const { bench, socket } = seated()
    await vi.advanceTimersByTimeAsync(800)
    expect(socket.sent).toContainEqual({ t: 'beat' })
    expect(bench.silent).toBe(false)
    await vi.advanceTimersByTimeAsync(2100)
    expect(bench.silent).toBe(true)
    socket.say({ t: 'beat' } as never)
    await nextTick()
    expect(bench.silent).toBe(false)
  })

  it('is given up after a while and asked anew', async () => {
    const { bench } = seated()
    await vi.advanceTimersByTimeAsync(10_000)
    expect(FakeSocket.all.length).toBeGreaterThan(1)
    expect(bench.connected).toBe(false)
    FakeSocket.all.at(-1)!.open()
    expect(FakeSocket.all.at(-1)!.sent[0]).toMatchObject({ t: 'hello' })
  })

  it('has told that the model was removed: it is not asked again', async () => {
    const { bench, socket } = seated()
    socket.lose(4004)
    await vi.advanceTimersByTimeAsync(10_000)
    expect(bench.missing).toBe('removed')
    expect(FakeSocket.all).toHaveLength(1)
  })

  it('has no such model: it is said', async () => {
    const bench = useBench()
    bench.open('m')
    answers = [() => answer(404, { status: 404, title: 'There is no such model' })]
    FakeSocket.all[0]!.lose()
    await vi.advanceTimersByTimeAsync(1)
    expect(bench.missing).toBe('unknown')
  })
})
