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
  /** How to get to a state, as it was asked last. */
  const way = shallowRef<Schemas['RuleWay']>()

  bench.add({
    take: {
      states: (message) => {
        if (message.rule !== of.value) return
        states.value = message.states
        now.value = message.now
        way.value = message.way
      },
    },
    again: () => (of.value ? [{ t: 'states', rule: of.value } as const] : []),
    forget: () => {
      of.value = ''
      states.value = now.value = way.value = undefined
    },
  })

  /** Looks at a rule by its key; an empty one ends it. */
  function look(rule: string) {
    if (rule === of.value) return
    of.value = rule
    states.value = now.value = way.value = undefined
    bench.send({ t: 'states', rule })
  }
  /** Asks how to get to a state of the rule that is open, from how things are now. */
  function seek(node: number) {
    way.value = undefined
    bench.send({ t: 'states', rule: of.value, node })
  }

  return { of, states, now, way, look, seek }
})
