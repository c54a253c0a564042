import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import { useBench } from './bench'

/** What is found out about what must always hold, while a page wants to know. */
export const useClaims = defineStore('claims', () => {
  const bench = useBench()
  const told = shallowRef<Schemas['ClaimTold'][]>([])
  const wanted = shallowRef(false)

  bench.add({
    take: {
      claims: (message) => (told.value = message.claims),
    },
    again: () => (wanted.value ? [{ t: 'claims', wanted: true } as const] : []),
    forget: () => {
      wanted.value = false
      told.value = []
    },
  })

  function want(on: boolean) {
    wanted.value = on
    bench.send({ t: 'claims', wanted: on })
  }
  /** Ends the search for one. */
  const stop = (claim: string) => bench.send({ t: 'claims', stop: claim })

  return { told, want, stop }
})
