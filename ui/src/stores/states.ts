import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import { useBench } from './bench'

/** The states of the rule that is open, and in which of them it is now. */
export const useStates = defineStore('states', () => {
  const bench = useBench()
  const of = shallowRef('')
  const states = shallowRef<Schemas['RuleStates']>()
  const now = shallowRef<Schemas['RuleNow']>()

  bench.add({
    take: {
      states: (message) => {
        if (message.rule !== of.value) return
        states.value = message.states
        now.value = message.now
      },
    },
    again: () => (of.value ? [{ t: 'states', rule: of.value } as const] : []),
    forget: () => {
      of.value = ''
      states.value = now.value = undefined
    },
  })

  /** Looks at a rule by its key; an empty one ends it. */
  function look(rule: string) {
    if (rule === of.value) return
    of.value = rule
    states.value = now.value = undefined
    bench.send({ t: 'states', rule })
  }

  return { of, states, now, look }
})
