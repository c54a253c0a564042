import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'

import type { Drill, StageWords } from '../api/client'
import { useBench } from './bench'

/** The picture of the model: what it shows, what it says, and what happens from every stance. */
export const useStage = defineStore('stage', () => {
  const bench = useBench()
  const picture = computed(() => bench.whole?.stage)
  /** The place of its first number in the values. */
  const at = computed(() => bench.whole?.stage_at ?? 0)
  const words = shallowRef<StageWords>()
  /** What happens from every stance; undefined while it is worked out. */
  const drill = shallowRef<Drill>()

  bench.add({
    take: {
      stage: (message) => (words.value = message.words),
      drilled: (message) => (drill.value = message.drill),
    },
    forget: () => (words.value = drill.value = undefined),
  })

  /** Plays a drill through from every stance. */
  function play(kind: Drill['kind']) {
    drill.value = undefined
    bench.send({ t: 'stage', drill: kind })
  }

  /** Puts the model back where it was at first. */
  const putBack = () => bench.send({ t: 'stage', drill: '' })

  return { picture, at, words, drill, play, putBack }
})
