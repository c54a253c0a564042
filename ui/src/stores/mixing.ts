import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Mixing, ToBench } from '../api/client'
import { useBench } from './bench'

/** The pairs of the model, and the fields of the one that is looked at. */
export const useMixing = defineStore('mixing', () => {
  const bench = useBench()
  const mixing = shallowRef<Mixing>()
  let wanted: ToBench | undefined

  bench.add({
    take: { mixing: (message) => (mixing.value = message.mixing) },
    again: () => (wanted ? [wanted] : []),
    forget: () => (mixing.value = wanted = undefined),
  })

  /** Wants the fields of a pair; of the first there is where the pair is not known. */
  function want(pair: { first: string; second: string }) {
    wanted = { t: 'mixing', ...pair }
    bench.send(wanted)
  }

  /** Nobody looks at a pair any more. */
  function leave() {
    wanted = undefined
    bench.send({ t: 'mixing' })
  }

  return { mixing, want, leave }
})
