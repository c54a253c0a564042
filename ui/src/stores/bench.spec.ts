import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'

import type { FromBench, Model, ToBench } from '../api/client'
import { useBench } from './bench'
import { useNotices } from './notices'

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
  bench.open('m')
  const socket = FakeSocket.all[0]!
  socket.open()
  socket.say({ t: 'bench', model, view, values: [0, 1500] })
  return { bench, socket }
}

describe('the bench', () => {
  it('says hello first and draws what the server says', () => {
    const { bench, socket } = seated()
    expect(socket.sent[0]).toMatchObject({ t: 'hello', set: {} })
    socket.say({ t: 'frame', at: [1], v: [1652] })
    expect(bench.values).toEqual([0, 1652])
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
    const { bench } = seated()
    answers = [
      () => {
        throw new TypeError('network')
      },
      () => answer(503, { status: 503, title: 'The database does not answer' }),
      () => answer(200, { ...model, revision: 2 }),
    ]
    const kept = bench.keep(patch)
    await vi.advanceTimersByTimeAsync(5000)
    expect(await kept).toEqual({ kept: true })
    expect(fetched).toHaveLength(3)
    expect(new Set(fetched.map((r) => r.headers.get('Axtren-Edit'))).size).toBe(1)
    expect(fetched[0]!.headers.get('If-Match')).toBe('"1"')
    expect(bench.model?.revision).toBe(2)
  })

  it('says why an edit was refused and keeps the revision', async () => {
    const { bench } = seated()
    answers = [() => answer(422, { status: 422, title: 'no', errors: [] })]
    const outcome = await bench.keep(patch)
    expect(outcome).toMatchObject({ kept: false, problem: { status: 422 } })
    expect(bench.model?.revision).toBe(1)
    bench.drop()
    expect(bench.notKept).toBeUndefined()
  })

  it('makes one edit after the other, each against the newest revision', async () => {
    const { bench } = seated()
    answers = [2, 3].map((revision) => () => answer(200, { ...model, revision }))
    await Promise.all([bench.keep(patch), bench.keep(patch)])
    expect(fetched.map((r) => r.headers.get('If-Match'))).toEqual(['"1"', '"2"'])
  })

  it('listens to the refusal of its newest trial alone', () => {
    const { bench, socket } = seated()
    bench.attempt(patch)
    bench.attempt(patch)
    socket.say({ t: 'refused', id: 1, problem: { status: 422, title: 'old', type: '' } })
    expect(bench.refused).toBeUndefined()
    socket.say({ t: 'refused', id: 2, problem: { status: 422, title: 'new', type: '' } })
    expect(bench.refused?.title).toBe('new')
  })

  it('asks when an edit met another one, and puts it on top of the newest revision', async () => {
    const { bench } = seated()
    const since = [{ number: 2, words: 'Horn: low −80 → −70' }]
    answers = [
      () => answer(412, { status: 412, title: 'The model was changed meanwhile', since }),
      () => answer(200, { ...model, revision: 2 }),
      () => answer(200, { ...model, revision: 3 }),
    ]
    const kept = bench.keep(patch)
    await vi.advanceTimersByTimeAsync(10)
    expect(bench.clash?.problem.since).toEqual(since)
    bench.clash!.settle(true)
    expect(await kept).toEqual({ kept: true })
    expect(fetched[2]!.headers.get('If-Match')).toBe('"2"')
    expect(bench.model?.revision).toBe(3)
    expect(bench.clash).toBeUndefined()
  })

  it('drops an edit that met another one where that is wanted', async () => {
    const { bench } = seated()
    answers = [() => answer(412, { status: 412, title: 'The model was changed meanwhile', since: [] })]
    const kept = bench.keep(patch)
    await vi.advanceTimersByTimeAsync(10)
    bench.clash!.settle(false)
    expect(await kept).toMatchObject({ kept: false })
    expect(fetched).toHaveLength(1)
    expect(bench.notKept).toBeUndefined()
  })

  it('takes back what a later edit touched only if sure', async () => {
    const { bench } = seated()
    answers = [
      () => answer(409, { status: 409, type: 'urn:axtren:touched', title: 'touched', since: [] }),
      () => answer(200, model),
      () => answer(200, { ...model, revision: 2 }),
    ]
    const undone = bench.undo()
    await vi.advanceTimersByTimeAsync(10)
    bench.clash!.settle(true)
    expect(await undone).toEqual({ kept: true })
    expect(fetched.map((r) => new URL(r.url).searchParams.get('sure'))).toEqual(['false', null, 'true'])
  })

  it('shows what plays, and where it is', () => {
    const { bench, socket } = seated()
    socket.say({ t: 'played', play: { recording: 'r', at: 0, of: 100, run: 1, marks: [3] } })
    socket.say({ t: 'frame', at: [1], v: [7], play: { recording: 'r', at: 5, of: 100, run: 1 } })
    expect(bench.playing).toEqual({ recording: 'r', at: 5, of: 100, run: 1, marks: [3] })
    socket.say({ t: 'played', play: { recording: '', at: 0, of: 0, run: 0 } })
    expect(bench.playing).toBeUndefined()
  })

  it('holds no more after a night of frames', () => {
    const { bench, socket } = seated()
    const held = () => JSON.stringify({ ...bench.$state, fetched: 0 }).length
    const before = held()
    for (let k = 0; k < 100_000; k++) socket.say({ t: 'frame', n: k, at: [1], v: [1000 + (k % 1000)] })
    expect(bench.values).toEqual([0, 1999])
    expect(held()).toBe(before)
    expect(socket.sent).toHaveLength(1)
  })
})

describe('the stage and the pairs', () => {
  it('keeps the picture with the place of its numbers, and what is said of it', async () => {
    const bench = useBench()
    bench.open('m')
    await nextTick()
    const socket = FakeSocket.all[0]!
    socket.open()
    const picture = { view: 'above', parts: [] } as never
    socket.say({ t: 'bench', model, view, values: [1, 2, 3], stage: picture, stage_at: 1 })
    expect(bench.stage).toEqual({ picture, at: 1 })
    socket.say({ t: 'stage', words: { head: 'Ahead.', more: [] } })
    expect(bench.stageWords?.head).toBe('Ahead.')
  })

  it('forgets the last drill when another one is wanted', async () => {
    const bench = useBench()
    bench.open('m')
    await nextTick()
    const socket = FakeSocket.all[0]!
    socket.open()
    socket.say({ t: 'drilled', drill: { kind: 'cut_link', of: 4, whole: true, lines: [] } })
    expect(bench.drill?.of).toBe(4)
    bench.onStage('switch_on')
    expect(bench.drill).toBeUndefined()
    expect(socket.sent.at(-1)).toEqual({ t: 'stage', drill: 'switch_on' })
    bench.onStage('')
    expect(socket.sent.at(-1)).toEqual({ t: 'stage', drill: '' })
  })

  it('asks for the fields of its pair again after a lost connection', async () => {
    const bench = useBench()
    bench.open('m')
    await nextTick()
    FakeSocket.all[0]!.open()
    bench.wantMixing({ first: 'a', second: 'b' })
    FakeSocket.all[0]!.lose()
    await vi.advanceTimersByTimeAsync(5000)
    const again = FakeSocket.all.at(-1)!
    again.open()
    expect(again.sent).toContainEqual({ t: 'mixing', first: 'a', second: 'b' })
    bench.wantMixing()
    expect(again.sent.at(-1)).toEqual({ t: 'mixing' })
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
    const { bench } = seated()
    answers = [offline, () => answer(200, { ...model, revision: 2 })]
    const kept = bench.keep(patch)
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
    const { bench } = seated()
    const since = [{ number: 2, words: 'Horn: low −80 → −70' }]
    answers = [() => answer(412, { status: 412, title: 'The model was changed meanwhile', since })]
    const kept = bench.keep(patch)
    await vi.advanceTimersByTimeAsync(10)
    expect(bench.clash).toBeDefined()
    turnTo(bench, other)
    expect(await kept).toMatchObject({ kept: false })
    expect(bench.clash).toBeUndefined()
    expect(useNotices().list.map((n) => n.words)).toEqual([
      'A change to Stoat was not saved: it met another change (Horn: low −80 → −70), and nobody decided.',
    ])
    answers = [() => answer(200, { ...other, revision: 6 })]
    expect(await bench.keep(patch)).toEqual({ kept: true })
    expect(paths()).toEqual(['/api/models/m', '/api/models/n'])
    expect(fetched[1]!.headers.get('If-Match')).toBe('"5"')
  })

  it('are said where they meet another change after the model was left', async () => {
    const { bench } = seated()
    answers = [offline, () => answer(412, { status: 412, title: 'changed', since: [] })]
    const kept = bench.keep(patch)
    await vi.advanceTimersByTimeAsync(1)
    turnTo(bench, other)
    await vi.advanceTimersByTimeAsync(1000)
    expect(await kept).toMatchObject({ kept: false })
    expect(useNotices().list).toHaveLength(1)
    expect(bench.clash).toBeUndefined()
  })

  it('are sent again until somebody answers, and at once when the bench is back', async () => {
    const { bench, socket } = seated()
    answers = Array.from({ length: 12 }, () => offline)
    const kept = bench.keep(patch)
    await vi.advanceTimersByTimeAsync(20_000)
    expect(fetched.length).toBeGreaterThan(8)
    expect(bench.saving).toBe(1)
    expect(bench.notKept?.title).toBe('The server does not answer')
    answers = [() => answer(200, { ...model, revision: 2 })]
    const before = fetched.length
    socket.say({ t: 'bench', model, view, values: [] })
    await vi.advanceTimersByTimeAsync(1)
    expect(fetched.length).toBe(before + 1)
    expect(await kept).toEqual({ kept: true })
    expect(bench.notKept).toBeUndefined()
    const edits = fetched.filter((r) => r.method === 'PATCH')
    expect(new Set(edits.map((r) => r.headers.get('Axtren-Edit'))).size).toBe(1)
  })

  it('of a whole text are made against the revision that it was read at', async () => {
    const { bench, socket } = seated()
    socket.say({ t: 'bench', model: { ...model, revision: 9 }, view, values: [] })
    answers = [() => answer(200, { ...model, revision: 10 })]
    await bench.putText('name: x', 7)
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
