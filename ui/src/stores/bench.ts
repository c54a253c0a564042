import { watchDebounced } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, effectScope, reactive, shallowRef, watch, type EffectScope } from 'vue'

import {
  api,
  page,
  type FromBench,
  type Joint,
  type Model,
  type ToBench,
  type View,
  type ViewChanged,
} from '../api/client'
import { useSocket } from '../composables/useSocket'

/** A view of which some elements are others: all that have not changed are the same objects as before. */
function merged(view: View, changed: ViewChanged): View {
  const by = <T>(list: T[], others: Record<string, T> | undefined, key: (one: T, i: number) => string) =>
    others ? list.map((one, i) => others[key(one, i)] ?? one) : list
  return {
    ...view,
    controls: by(view.controls, changed.controls, (one) => one.id),
    lines: by(view.lines, changed.lines, (one) => one.id),
    blocks: by(view.blocks, changed.blocks, (_, i) => String(i)).map((block, i) => {
      const joints = changed.joints?.[i]
      if (!joints) return block
      const of = (list: Joint[]) => by(list, joints, (one) => one.key)
      return {
        ...block,
        chains: block.chains.map(of),
        share: block.share && (joints[block.share.key] ?? block.share),
        rows: block.rows.map((row) => ({ ...row, joints: of(row.joints) })),
      }
    }),
    receivers: by(view.receivers, changed.receivers, (one) => one.part),
    behind: by(view.behind, changed.behind, (one) => one.part),
  }
}

/** The close code of a model that was removed: api/openapi.yaml. */
const goneCode = 4004

/** What is out of sight is drawn again so long after the last change, ms; later while all goes on. */
const calmMs = 250

/** Where a hand has a control: percent, or the name of a position. */
export type Hand = number | string

/** Messages of the bench by what they are. */
export type Told<T extends FromBench['t']> = Extract<FromBench, { t: T }>

/**
 * What a place of the page adds to the bench: the messages that are its own, what it asks for again after a
 * lost connection, and what it forgets when the model is left.
 */
export interface Feature {
  take: { [T in FromBench['t']]?: (message: Told<T>) => void }
  opened?: (id: string) => void
  again?: () => ToBench[]
  forget: () => void
}

/**
 * The bench of one model: the live connection, and where the hands are. It draws nothing and computes
 * nothing; all figures come from the server.
 */
export const useBench = defineStore('bench', () => {
  const features: Feature[] = []
  const model = shallowRef<Model>()
  /** All that the bench told at once, the last time that it did. */
  const whole = shallowRef<Told<'bench'>>()
  const view = computed<View | undefined>(() => whole.value?.view)
  const frameMs = computed(() => whole.value?.frame_ms ?? 20)
  const values = shallowRef<number[]>([])
  /** The values as they were a moment ago, for what is out of sight. */
  const calmed = shallowRef<number[]>([])
  watchDebounced(values, (now) => (calmed.value = now), {
    debounce: calmMs,
    maxWait: 8 * calmMs,
    flush: 'sync',
  })
  /** The entries of the start check that are not met, by place. */
  const waits = shallowRef<number[]>([])
  const connected = shallowRef(false)
  /** The socket could not be opened, or was lost, and is not there again. */
  const unreached = shallowRef(false)
  /** The server is asked and says nothing. */
  const silent = shallowRef(false)
  /** Why there is no such model to open. */
  const missing = shallowRef<'unknown' | 'removed' | 'broken'>()
  const hands = reactive<Record<string, Hand>>({})
  /** The control that a hand is on, or has moved last. */
  const moving = shallowRef<string>()

  let scope: EffectScope | undefined
  let post: (message: ToBench) => void = () => {}
  let movement = 0
  let opened = ''

  /** Adds a feature, for as long as the page lives. What it missed is told again. */
  function add(feature: Feature) {
    features.push(feature)
    if (opened) feature.opened?.(opened)
    if (whole.value) feature.take.bench?.(whole.value)
  }

  function open(id: string) {
    if (opened === id) return
    close()
    opened = id
    for (const feature of features) feature.opened?.(id)
    scope = effectScope(true)
    scope.run(() => {
      const url = `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/models/${id}/live`
      const socket = useSocket(
        url,
        {
          opened: hello,
          message: (text) => receive(JSON.parse(text)),
          ended: () => (missing.value = 'removed'),
          lost: () => {
            unreached.value = true
            void look(id)
          },
        },
        [goneCode],
      )
      watch(socket.connected, (there) => {
        if (!there) connected.value = false
        else unreached.value = false
      })
      watch(socket.silent, (now) => (silent.value = now))
      post = socket.send
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
    post = () => {}
    opened = ''
    for (const feature of features) feature.forget()
    waiting = undefined
    model.value = whole.value = missing.value = moving.value = undefined
    values.value = calmed.value = waits.value = []
    for (const control of Object.keys(hands)) delete hands[control]
    connected.value = silent.value = unreached.value = false
    movement = 0
  }

  /** After a lost connection the levers are where they were, and what was asked for is asked again. */
  function hello() {
    post({ t: 'hello', n: ++movement, set: { ...hands }, page })
    for (const feature of features) for (const message of feature.again?.() ?? []) post(message)
  }

  /** The newest frame that no picture was made of yet, with all that changed in those before it. */
  let waiting: { values: number[]; last: Told<'frame'> } | undefined

  /** However many frames came since the last picture, the next one is made of them once. */
  function takeFrame(message: Told<'frame'>) {
    if (!waiting) requestAnimationFrame(draw)
    waiting = { values: changed(waiting?.values ?? values.value, message.at, message.v), last: message }
  }

  function draw() {
    if (!waiting) return
    const { values: next, last } = waiting
    waiting = undefined
    values.value = next
    waits.value = last.waits
    tell(last)
  }

  function receive(message: FromBench) {
    if (message.t === 'frame') return takeFrame(message)
    draw() // what came before it
    if (message.t === 'changed') return receiveWhole(message)
    if (message.t === 'bench') takeWhole(message)
    tell(message)
  }

  /** Tells the features what came. */
  function tell(message: FromBench) {
    for (const feature of features) {
      const take = feature.take[message.t] as ((message: FromBench) => void) | undefined
      take?.(message)
    }
  }

  /** What differs of all that is on the bench makes another whole of what was told before. */
  function receiveWhole(message: Told<'changed'>) {
    const before = whole.value
    if (!before) return
    receive({
      ...before,
      t: 'bench',
      model: message.model ?? before.model,
      rail: message.rail ?? before.rail,
      stage: message.stage ?? before.stage,
      trying: message.trying,
      n: message.n,
      waits: message.waits,
      view: merged(before.view, message.changed),
      values: changed(values.value, message.at, message.v),
    })
  }

  function takeWhole(message: Told<'bench'>) {
    connected.value = true
    missing.value = undefined
    model.value = message.model
    whole.value = message
    values.value = calmed.value = message.values // of another layout, perhaps
    waits.value = message.waits
    for (const c of [...message.view.controls, ...message.view.power]) hands[c.id] ??= restOf(c)
  }

  /** A new list, so that what is drawn from it is drawn again. */
  function changed(old: number[], at: number[], v: number[]): number[] {
    const now = old.slice()
    at.forEach((place, i) => (now[place] = v[i] ?? 0))
    return now
  }

  function move(set: Record<string, Hand>) {
    Object.assign(hands, set)
    moving.value = Object.keys(set)[0]
    post({ t: 'hands', n: ++movement, set })
  }

  /** Sends a message of a feature. */
  const send = (message: ToBench) => post(message)

  return {
    add,
    model,
    whole,
    view,
    frameMs,
    values,
    calmed,
    waits,
    connected,
    unreached,
    silent,
    missing,
    hands,
    moving,
    open,
    close,
    move,
    send,
  }
})

/** Where a control is when nobody has touched it. */
export function restOf(c: View['controls'][number]): Hand {
  return c.kind === 'switch' ? (c.positions?.[c.rest] ?? '') : c.rest
}
