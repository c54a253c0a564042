import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import { useBench } from './bench'

/** What it can be asked how to get to. */
export type Goal = { rule: string; node: number } | { device: string; does: string } | { output: string }

/** Of what a goal is, as an answer names it. */
const key = (goal: Goal) =>
  'rule' in goal ? goal.rule : 'device' in goal ? `devices/${goal.device}` : `outputs/${goal.output}`
const does = (goal: Goal) => ('rule' in goal ? String(goal.node) : 'device' in goal ? goal.does : '')

/** How to get from now to what was asked for last. */
export const useWays = defineStore('ways', () => {
  const bench = useBench()
  const asked = shallowRef<Goal>()
  const told = shallowRef<Schemas['WayTold']>()

  /** The answer to what was asked for last, as soon as it is there. */
  const answer = computed(() => {
    const goal = asked.value
    const one = told.value
    return goal && one?.of === key(goal) && one.does === does(goal) ? one : undefined
  })

  bench.add({
    take: {
      way: (message) => {
        told.value = message.way
        // without a line it is no more: the model has changed since
        if (answer.value && !answer.value.looking && !answer.value.lines.length) asked.value = undefined
      },
    },
    again: () => (asked.value ? [{ t: 'way', ...asked.value } as const] : []),
    forget: () => (asked.value = told.value = undefined),
  })

  /** Asks how to get somewhere from how things are now; for nothing it ends the search. */
  function ask(goal?: Goal) {
    asked.value = goal
    told.value = undefined
    bench.send({ t: 'way', ...goal })
  }

  return { asked, answer, ask }
})
