import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Cause } from '../api/client'
import { useBench } from './bench'

/** What can cause the complaint that was made. */
export const useTrouble = defineStore('trouble', () => {
  const bench = useBench()
  const causes = shallowRef<Cause[]>()

  bench.add({
    take: { trouble: (message) => (causes.value = message.causes) },
    forget: () => (causes.value = undefined),
  })

  /** Complains of a line; an empty complaint ends it. */
  function complain(complaint: string, output: string) {
    causes.value = undefined
    bench.send({ t: 'trouble', complaint, output })
  }

  return { causes, complain }
})
