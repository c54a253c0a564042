import { defineStore } from 'pinia'

import { useBench } from './bench'

/** The one function that moves while it is on the stand; the others stay at rest. */
export const useAlone = defineStore('alone', () => {
  const bench = useBench()
  let held = ''
  bench.add({
    take: {},
    again: () => (held ? [{ t: 'alone', output: held } as const] : []),
    forget: () => (held = ''),
  })

  /** Lets only this function move; an empty one lets all move again. */
  function only(output: string) {
    if (output === held) return
    held = output
    bench.send({ t: 'alone', output })
  }

  return { only }
})
