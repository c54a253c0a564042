import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import { useBench } from './bench'

/** The signal cut at every moment of a run, for as long as somebody looks at it. */
export const useLosses = defineStore('losses', () => {
  const bench = useBench()
  /** The run that is wanted, as an answer names it; undefined: none. */
  const run = shallowRef<string>()
  const told = shallowRef<Schemas['LossesTold']>()

  const asks = () => ({ t: 'losses', wanted: run.value !== undefined, recording: run.value }) as const
  bench.add({
    take: {
      losses: (message) => {
        if (message.losses.run === run.value) told.value = message.losses
      },
    },
    again: () => (run.value === undefined ? [] : [asks()]),
    forget: () => (run.value = told.value = undefined),
  })

  /** Wants the drill of a run, or of none any more. */
  function want(next?: string) {
    run.value = next
    told.value = undefined
    bench.send(asks())
  }

  return { run, told, want }
})
