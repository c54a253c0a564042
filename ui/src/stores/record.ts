import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import { useBench } from './bench'

type Signal = Schemas['Strips']['signals'][number]

/** One thing on record: where it was at first, and what it became when. */
export interface Strip extends Signal {
  first: number
  frames: number[]
  values: number[]
}

/** How long is kept, s: what is older is let go of in the page too. */
const keptSeconds = 600

/** What happened on the bench, as the server tells it. */
export const useRecord = defineStore('record', () => {
  const bench = useBench()
  const strips = shallowRef<Strip[]>([])
  const from = shallowRef(0)
  const to = shallowRef(0)
  /** When the last message came: what is drawn goes on smoothly until the next one. */
  const came = shallowRef(0)
  const because = shallowRef<Schemas['FromBecause']>()
  let wanted = false
  let saving: ((text: string) => void) | undefined

  bench.add({
    take: {
      record: (message) => {
        const told = message.strips
        if (message.whole)
          strips.value = told.signals.map((signal, i) => ({
            ...signal,
            first: told.start[i] ?? 0,
            frames: [],
            values: [],
          }))
        told.at.forEach((frame, k) => {
          const strip = strips.value[told.of[k] ?? -1]
          strip?.frames.push(frame)
          strip?.values.push(told.v[k] ?? 0)
        })
        to.value = told.to
        from.value = message.whole
          ? told.from
          : Math.max(from.value, told.to - (keptSeconds * 1000) / bench.frameMs)
        if (!message.whole && to.value % 500 < 10) forget()
        came.value = performance.now()
      },
      because: (message) => (because.value = message),
      export: (message) => {
        saving?.(message.text)
        saving = undefined
      },
    },
    again: () => (wanted ? [{ t: 'record', wanted } as const] : []),
    forget: () => {
      wanted = false
      strips.value = []
      from.value = to.value = 0
      because.value = undefined
    },
  })

  /** Lets go of what is too old. */
  function forget() {
    for (const strip of strips.value) {
      const n = place(strip.frames, from.value)
      if (n < 0) continue
      strip.first = strip.values[n] ?? strip.first
      strip.frames.splice(0, n + 1)
      strip.values.splice(0, n + 1)
    }
  }

  function want(on: boolean) {
    wanted = on
    bench.send({ t: 'record', wanted })
  }

  /** Asks why something changed, up to a frame the last time. */
  function why(signal: string, frame: number) {
    bench.send({ t: 'because', signal, frame })
  }

  /** Gives a span of some strips as a table, or as a value change dump. */
  function save(as: 'csv' | 'vcd', signals: string[], first: number, last: number): Promise<string> {
    bench.send({ t: 'export', as, signals, from: first, to: last })
    return new Promise((done) => (saving = done))
  }

  return { strips, from, to, came, because, want, why, save }
})

/** The place of the last number that is not above another one; -1 for none. */
export function place(frames: number[], frame: number): number {
  let low = 0
  let high = frames.length
  while (low < high) {
    const middle = (low + high) >> 1
    if ((frames[middle] ?? 0) <= frame) low = middle + 1
    else high = middle
  }
  return low - 1
}

/** What something was in a frame. */
export function valueAt(strip: Strip, frame: number): number {
  const n = place(strip.frames, frame)
  return n < 0 ? strip.first : (strip.values[n] ?? strip.first)
}
