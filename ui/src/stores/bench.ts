import { defineStore } from 'pinia'
import { effectScope, reactive, ref, shallowRef, watch as whenever, type EffectScope } from 'vue'

import {
  api,
  origin,
  unreachable,
  page,
  type Act,
  type Cause,
  type Drill,
  type FromBench,
  type Mixing,
  type Model,
  type Patch,
  type Picture,
  type Playing,
  type Problem,
  type Reason,
  type Recording,
  type StageWords,
  type ToBench,
  type View,
} from '../api/client'
import { useSocket } from '../composables/useSocket'

type Hand = number | string

/** A file of what the hands did; exact where it gives from power-on what was seen. */
export interface Saved {
  text: string
  exact: boolean
}

/** What an edit came to. */
export type Outcome = { kept: true; part?: string } | { kept: false; problem: Problem }

/** A change that met another one: what was made meanwhile, and how to go on. */
export interface Clash {
  problem: Problem
  settle: (onTop: boolean) => void
}

/**
 * The bench of one model: the live connection, where the hands are, and the edits. It draws nothing and
 * computes nothing; all figures come from the server.
 */
export const useBench = defineStore('bench', () => {
  const model = shallowRef<Model>()
  const view = shallowRef<View>()
  const values = shallowRef<number[]>([])
  /** The entries of the start check that are not met, by place. */
  const waits = shallowRef<number[]>([])
  const connected = shallowRef(false)
  const hands = reactive<Record<string, Hand>>({})
  /** Controls that a hand is on, or has moved last. */
  const moving = shallowRef<string>()
  const reason = shallowRef<{ joint: string; tree?: Reason }>()
  const trying = ref(0)
  const saving = ref(0)
  const notKept = shallowRef<Problem>()
  /** Why the running trial was refused. */
  const refused = shallowRef<Problem>()
  /** A change of this page that waits for a decision. */
  const clash = shallowRef<Clash>()
  const playing = shallowRef<Playing>()
  const plot = shallowRef<number[][]>()
  /** What can cause the complaint that was made. */
  const causes = shallowRef<Cause[]>()
  const frameMs = shallowRef(20)
  /** What the stage shows, and the place of its first number in the values. */
  const stage = shallowRef<{ picture: Picture; at: number }>()
  const stageWords = shallowRef<StageWords>()
  /** What happens from every stance; undefined while it is worked out. */
  const drill = shallowRef<Drill>()
  /** The pairs of the model, and the fields of the one that is looked at. */
  const mixing = shallowRef<Mixing>()
  const recordings = shallowRef<Recording[]>([])

  let scope: EffectScope | undefined
  let send: (message: ToBench) => void = () => {}
  let movement = 0
  let trial = 0
  let watched = ''
  let plotted: ToBench | undefined
  let mixed: ToBench | undefined
  let saved: ((file: Saved) => void) | undefined
  let last: Promise<unknown> = Promise.resolve()

  function open(id: string) {
    if (model.value?.id === id && scope) return
    close()
    scope = effectScope(true)
    scope.run(() => {
      const url = `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/models/${id}/live`
      const socket = useSocket(url, hello, (text) => receive(JSON.parse(text)))
      whenever(socket.connected, (there) => {
        if (!there) connected.value = false
      })
      send = socket.send
    })
  }

  function close() {
    scope?.stop()
    scope = undefined
    send = () => {}
    model.value = view.value = reason.value = notKept.value = refused.value = undefined
    clash.value = playing.value = plot.value = causes.value = undefined
    stage.value = stageWords.value = drill.value = mixing.value = undefined
    mixed = undefined
    plotted = undefined
    values.value = []
    for (const control of Object.keys(hands)) delete hands[control]
    connected.value = false
    trying.value = trial = movement = 0
    watched = ''
  }

  /** After a lost connection the levers are where they were. */
  function hello() {
    send({ t: 'hello', n: ++movement, set: { ...hands }, page })
    if (plotted) send(plotted)
    if (mixed) send(mixed)
    if (watched) send({ t: 'watch', joint: watched })
  }

  function receive(message: FromBench) {
    switch (message.t) {
      case 'bench':
        connected.value = true
        model.value = message.model
        view.value = message.view
        frameMs.value = message.frame_ms ?? 20
        values.value = message.values ?? []
        if (message.stage) stage.value = { picture: message.stage, at: message.stage_at ?? 0 }
        waits.value = message.waits ?? []
        trying.value = message.trying ?? 0
        if (!trying.value || trying.value === trial) refused.value = undefined
        for (const c of [...(message.view?.controls ?? []), ...(message.view?.power ?? [])])
          hands[c.id] ??= restOf(c)
        break
      case 'frame':
        waits.value = message.waits ?? []
        if (message.play) playing.value = { ...playing.value, ...message.play }
        values.value = changed(values.value, message.at ?? [], message.v ?? [])
        break
      case 'plot':
        plot.value = message.points
        break
      case 'trouble':
        causes.value = message.causes
        break
      case 'stage':
        stageWords.value = message.words
        break
      case 'drilled':
        drill.value = message.drill
        break
      case 'mixing':
        mixing.value = message.mixing
        break
      case 'played':
        playing.value = message.play?.recording ? message.play : undefined
        break
      case 'why':
        reason.value = { joint: message.joint ?? '', tree: message.reason }
        break
      case 'saved':
        saved?.({ text: message.text ?? '', exact: message.exact ?? false })
        break
      case 'refused':
        if (message.id === trial) refused.value = message.problem
        break
    }
  }

  /** A new list, so that what is drawn from it is drawn again. */
  function changed(old: number[], at: number[], v: number[]): number[] {
    const now = old.slice()
    at.forEach((place, i) => (now[place] = v[i] ?? 0))
    return now
  }

  function restOf(c: View['controls'][number]): Hand {
    return c.kind === 'switch' ? (c.positions?.[c.rest] ?? '') : c.rest
  }

  function move(set: Record<string, Hand>) {
    Object.assign(hands, set)
    moving.value = Object.keys(set)[0]
    send({ t: 'hands', n: ++movement, set })
  }

  function watch(joint: string) {
    if (joint === watched) return
    watched = joint
    reason.value = undefined
    send({ t: 'watch', joint })
  }

  /** Wants the line along the travel of a control, as it would be with all else as it stands. */
  function wantPlot(control: string, output: string) {
    plotted = control ? { t: 'plot', control, output } : undefined
    plot.value = undefined
    send({ t: 'plot', control, output })
  }

  /** Complains of a line; an empty complaint ends it. */
  function complain(complaint: string, output: string) {
    causes.value = undefined
    send({ t: 'trouble', complaint, output })
  }

  /** Plays a drill through from every stance; an empty one puts the model back where it was at first. */
  function onStage(kind: '' | Drill['kind']) {
    if (kind) drill.value = undefined
    send({ t: 'stage', drill: kind })
  }

  /** Wants the fields of a pair; of the first there is where the pair is not known, none without a pair. */
  function wantMixing(pair?: { first: string; second: string }) {
    mixed = pair ? { t: 'mixing', ...pair } : undefined
    send(mixed ?? { t: 'mixing' })
  }

  /** Plays a recording on the bench instead of the hands; an empty one gives the bench back. */
  function play(recording: string, how: { run?: number; seek?: number } = {}) {
    send({ t: 'play', recording, ...how })
  }

  /** Reads what is kept with the model by name. */
  async function listRecordings() {
    const answer = await api.GET('/api/models/{id}/recordings', { params: { path: path() } })
    recordings.value = answer.data ?? recordings.value
  }

  /** What the hands did, as a script, or as the trace or dump that the bench made of it. */
  function save(format: 'script' | 'csv' | 'vcd'): Promise<Saved> {
    send({ t: 'save', format })
    return new Promise((done) => (saved = done))
  }

  /** Plays a patch live without keeping it. */
  function attempt(patch: Patch) {
    if (patch.length === 0) return drop()
    send({ t: 'try', id: ++trial, patch: patch as never })
  }

  /** Goes back from a trial, or from an edit that was refused, to what is kept. */
  function drop() {
    refused.value = notKept.value = undefined
    if (trial === 0) return
    trial = 0
    send({ t: 'drop' })
  }

  type Request = (headers: Headers, sure: boolean) => Promise<{ data?: Model; error?: Problem }>
  type Headers = ReturnType<typeof origin> & { 'If-Match': string }

  /** One change of the model after the other, each against the newest revision this page knows of. */
  function change(request: Request): Promise<Outcome> {
    const own = last.then(() => run(request))
    last = own
    return own
  }

  async function run(request: Request, sure = false): Promise<Outcome> {
    const headers = { ...origin(), 'If-Match': `"${model.value?.revision}"` }
    saving.value++
    let answer: Awaited<ReturnType<Request>>
    try {
      answer = await again(() => request(headers, sure))
    } finally {
      saving.value--
    }
    if (answer.data) {
      if (answer.data.revision >= (model.value?.revision ?? 0)) model.value = answer.data
      drop()
      return { kept: true, part: answer.data.part }
    }
    const problem = answer.error ?? unreachable
    const met = problem.status === 412 || problem.type === 'urn:axtren:touched'
    if (met && (await decide(problem))) {
      await newest()
      return run(request, true)
    }
    notKept.value = met ? undefined : problem // what was dropped on purpose is no trouble
    return { kept: false, problem }
  }

  /** Asks the person whether a change that met another one goes on top of it. */
  function decide(problem: Problem): Promise<boolean> {
    return new Promise((done) => {
      clash.value = {
        problem,
        settle(onTop) {
          clash.value = undefined
          if (!onTop) drop()
          done(onTop)
        },
      }
    })
  }

  /** Reads the model as it is now, where the bench has not told it yet. */
  async function newest() {
    const answer = await api.GET('/api/models/{id}', { params: { path: path() } })
    if (answer.data && answer.data.revision > (model.value?.revision ?? 0)) model.value = answer.data
  }

  /** Sends the same edit again while nothing answers: it is known by its id, so it is made once. */
  async function again(request: () => ReturnType<Request>): ReturnType<Request> {
    for (let wait = 200; wait < 4000; wait *= 2) {
      try {
        const answer = await request()
        if (answer.error?.status !== 503) return answer
        notKept.value = answer.error
      } catch {
        notKept.value = unreachable
      }
      await new Promise((done) => setTimeout(done, wait))
    }
    return { error: notKept.value ?? unreachable }
  }

  const path = () => ({ id: model.value?.id ?? '' })

  function keep(patch: Patch): Promise<Outcome> {
    if (patch.length === 0) {
      drop()
      return Promise.resolve({ kept: true })
    }
    return change((header) =>
      api.PATCH('/api/models/{id}', {
        params: { path: path(), header },
        body: patch as never,
        headers: { 'Content-Type': 'application/json-patch+json' },
      }),
    )
  }

  /** Adds, takes out, renames or moves a part, or exchanges two channels. */
  const act = (what: Act) =>
    change((header) => api.POST('/api/models/{id}/acts', { params: { path: path(), header }, body: what }))

  /** Makes the document what a text says. */
  const putText = (text: string) =>
    change((header) =>
      api.PUT('/api/models/{id}/text', {
        params: { path: path(), header },
        body: text as never,
        bodySerializer: (body) => body as never,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    )

  const undo = () =>
    change((header, sure) =>
      api.POST('/api/models/{id}/undo', { params: { path: path(), header, query: { sure } } }),
    )
  const redo = () =>
    change((header) => api.POST('/api/models/{id}/redo', { params: { path: path(), header } }))

  return {
    model,
    view,
    values,
    waits,
    connected,
    hands,
    moving,
    reason,
    trying,
    saving,
    notKept,
    refused,
    clash,
    playing,
    plot,
    causes,
    stage,
    stageWords,
    drill,
    onStage,
    mixing,
    wantMixing,
    complain,
    frameMs,
    recordings,
    listRecordings,
    wantPlot,
    play,
    act,
    putText,
    open,
    close,
    move,
    watch,
    save,
    attempt,
    drop,
    keep,
    undo,
    redo,
  }
})
