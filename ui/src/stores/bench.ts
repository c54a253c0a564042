import { defineStore } from 'pinia'
import { effectScope, reactive, ref, shallowRef, watch as whenever, type EffectScope } from 'vue'

import {
  api,
  origin,
  unreachable,
  type FromBench,
  type Model,
  type Patch,
  type Problem,
  type Reason,
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
export type Outcome = { kept: true } | { kept: false; problem: Problem }

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

  let scope: EffectScope | undefined
  let send: (message: ToBench) => void = () => {}
  let movement = 0
  let trial = 0
  let watched = ''
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
    values.value = []
    for (const control of Object.keys(hands)) delete hands[control]
    connected.value = false
    trying.value = trial = movement = 0
    watched = ''
  }

  /** After a lost connection the levers are where they were. */
  function hello() {
    send({ t: 'hello', n: ++movement, set: { ...hands } })
    if (watched) send({ t: 'watch', joint: watched })
  }

  function receive(message: FromBench) {
    switch (message.t) {
      case 'bench':
        connected.value = true
        model.value = message.model
        view.value = message.view
        values.value = message.values ?? []
        waits.value = message.waits ?? []
        trying.value = message.trying ?? 0
        if (!trying.value || trying.value === trial) refused.value = undefined
        for (const c of [...(message.view?.controls ?? []), ...(message.view?.power ?? [])])
          hands[c.id] ??= restOf(c)
        break
      case 'frame':
        waits.value = message.waits ?? []
        values.value = changed(values.value, message.at ?? [], message.v ?? [])
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

  type Request = (headers: Headers) => Promise<{ data?: Model; error?: Problem }>
  type Headers = ReturnType<typeof origin> & { 'If-Match': string }

  /** One change of the model after the other, each against the newest revision this page knows of. */
  function change(request: Request): Promise<Outcome> {
    const own = last.then(() => run(request))
    last = own
    return own
  }

  async function run(request: Request): Promise<Outcome> {
    const headers = { ...origin(), 'If-Match': `"${model.value?.revision}"` }
    saving.value++
    try {
      const answer = await again(() => request(headers))
      if (answer.data) {
        if (answer.data.revision >= (model.value?.revision ?? 0)) model.value = answer.data
        drop()
        return { kept: true }
      }
      notKept.value = answer.error ?? unreachable
      return { kept: false, problem: notKept.value }
    } finally {
      saving.value--
    }
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

  const undo = () =>
    change((header) => api.POST('/api/models/{id}/undo', { params: { path: path(), header } }))
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
