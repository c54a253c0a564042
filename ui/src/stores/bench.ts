import { defineStore } from 'pinia'
import { computed, effectScope, reactive, ref, shallowRef, watch as whenever, type EffectScope } from 'vue'

import {
  api,
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
import { createEditQueue, type EditQueue, type Outcome, type Request } from './editQueue'
import { useNotices } from './notices'

/** The close code of a model that was removed: api/openapi.yaml. */
const goneCode = 4004

type Hand = number | string

/** A file of what the hands did; exact where it gives from power-on what was seen. */
export interface Saved {
  text: string
  exact: boolean
}

/** How much a browser sends for a page that is closed is bounded: 64 KiB in all. */
const keepaliveBytes = 16_000

const noModel: Problem = {
  type: 'about:blank',
  title: 'No model is open',
  status: 0,
  detail: 'open it in Models and try again',
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
  /** The edits of the model that is open. */
  const edits = shallowRef<EditQueue>()
  const saving = computed(() => edits.value?.saving.value ?? 0)
  const notKept = computed(() => edits.value?.notKept.value)
  /** A change of this page that waits for a decision. */
  const clash = computed(() => edits.value?.clash.value)
  /** The server is asked and says nothing. */
  const silent = shallowRef(false)
  /** Why there is no such model to open. */
  const missing = shallowRef<'unknown' | 'removed' | 'broken'>()
  /** Why the running trial was refused. */
  const refused = shallowRef<Problem>()
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
  let opened = ''
  /** The revision that the view is of. */
  let viewed = 0

  function open(id: string) {
    if (opened === id) return
    close()
    opened = id
    const queue = createEditQueue(id, {
      newer: (newest) => {
        if (edits.value === queue && newest.revision >= (model.value?.revision ?? 0)) model.value = newest
      },
      dropped: () => {
        if (edits.value === queue) endTrial()
      },
      lost: (why) => useNotices().say(`A change to ${name || 'a model'} was not saved: ${why}.`),
    })
    let name = ''
    edits.value = queue
    scope = effectScope(true)
    scope.run(() => {
      const url = `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/models/${id}/live`
      const socket = useSocket(
        url,
        {
          opened: hello,
          message: (text) => receive(JSON.parse(text)),
          ended: () => (missing.value = 'removed'),
          lost: () => void look(id),
        },
        [goneCode],
      )
      whenever(socket.connected, (there) => {
        if (!there) connected.value = false
      })
      whenever(socket.silent, (now) => {
        silent.value = now
        if (!now) queue.answers()
      })
      whenever(
        model,
        (now) => {
          if (!now) return
          queue.seen(now)
          name = now.name
        },
        { flush: 'sync' },
      )
      send = socket.send
    })
  }

  /** The socket cannot be opened: is there such a model at all? */
  async function look(id: string) {
    try {
      const answer = await api.GET('/api/models/{id}', { params: { path: { id } } })
      if (opened !== id) return
      const status = answer.response.status
      if (status === 404 || status === 400) missing.value = model.value ? 'removed' : 'unknown'
      else if (status === 422) missing.value = 'broken'
    } catch {
      // nobody answers: the socket goes on trying
    }
  }

  function close() {
    scope?.stop()
    scope = undefined
    send = () => {}
    edits.value?.close()
    edits.value = undefined
    opened = ''
    viewed = 0
    silent.value = false
    missing.value = undefined
    model.value = view.value = reason.value = refused.value = undefined
    playing.value = plot.value = causes.value = undefined
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
        missing.value = undefined
        model.value = message.model
        viewed = message.model.revision
        edits.value?.answers()
        view.value = message.view
        frameMs.value = message.frame_ms
        values.value = message.values
        stage.value = { picture: message.stage, at: message.stage_at }
        waits.value = message.waits
        trying.value = message.trying
        if (!trying.value || trying.value === trial) refused.value = undefined
        for (const c of [...message.view.controls, ...message.view.power]) hands[c.id] ??= restOf(c)
        break
      case 'frame':
        waits.value = message.waits
        if (message.play) playing.value = { ...playing.value, ...message.play }
        values.value = changed(values.value, message.at, message.v)
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
        playing.value = message.play.recording ? message.play : undefined
        break
      case 'why':
        reason.value = { joint: message.joint, tree: message.reason }
        break
      case 'saved':
        saved?.({ text: message.text, exact: message.exact })
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
    const answer = await api.GET('/api/models/{id}/recordings', { params: { path: { id: opened } } })
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
    if (edits.value) edits.value.notKept.value = undefined
    endTrial()
  }

  function endTrial() {
    refused.value = undefined
    if (trial === 0) return
    trial = 0
    send({ t: 'drop' })
  }

  /** One change of the open model after the other. */
  function change(request: Request, against?: number): Promise<Outcome> {
    if (!edits.value) return Promise.resolve({ kept: false, problem: noModel })
    return edits.value.change(request, against)
  }

  /** Waits until the view is that of the newest revision; at most a second. */
  async function caughtUp() {
    for (let i = 0; i < 50 && viewed < (model.value?.revision ?? 0); i++)
      await new Promise((done) => setTimeout(done, 20))
  }

  function keep(patch: Patch): Promise<Outcome> {
    if (patch.length === 0) {
      drop()
      return Promise.resolve({ kept: true })
    }
    return change(({ path, header, signal }) =>
      api.PATCH('/api/models/{id}', {
        params: { path, header },
        body: patch as never,
        headers: { 'Content-Type': 'application/json-patch+json' },
        keepalive: JSON.stringify(patch).length < keepaliveBytes, // a page that is closed still saves it
        signal,
      }),
    )
  }

  /** Adds, takes out, renames or moves a part, or exchanges two channels. */
  const act = (what: Act) =>
    change(({ path, header, signal }) =>
      api.POST('/api/models/{id}/acts', { params: { path, header }, body: what, signal }),
    )

  /** Makes the document what a text says that was read at a revision. */
  const putText = (text: string, against: number) =>
    change(
      ({ path, header, signal }) =>
        api.PUT('/api/models/{id}/text', {
          params: { path, header },
          body: text as never,
          bodySerializer: (body) => body as never,
          headers: { 'Content-Type': 'application/octet-stream' },
          signal,
        }),
      against,
    )

  const undo = () =>
    change(({ path, header, sure, signal }) =>
      api.POST('/api/models/{id}/undo', { params: { path, header, query: { sure } }, signal }),
    )
  const redo = () =>
    change(({ path, header, signal }) =>
      api.POST('/api/models/{id}/redo', { params: { path, header }, signal }),
    )

  return {
    model,
    view,
    values,
    waits,
    connected,
    silent,
    missing,
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
    caughtUp,
    undo,
    redo,
  }
})
