import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import type { Reason, ToBench } from '../api/client'
import { useBench } from './bench'

/** The joint that is looked at: its arithmetic, and its line along the travel of a control. */
export const useJoint = defineStore('joint', () => {
  const bench = useBench()
  const reason = shallowRef<{ joint: string; tree?: Reason }>()
  const plot = shallowRef<number[][]>()
  let watched = ''
  let plotted: ToBench | undefined

  bench.add({
    take: {
      why: (message) => (reason.value = { joint: message.joint, tree: message.reason }),
      plot: (message) => (plot.value = message.points),
    },
    again: () => [
      ...(plotted ? [plotted] : []),
      ...(watched ? [{ t: 'watch', joint: watched } as const] : []),
    ],
    forget() {
      reason.value = plot.value = plotted = undefined
      watched = ''
    },
  })

  /** Wants the arithmetic of a joint; an empty one ends it. */
  function watch(joint: string) {
    if (joint === watched) return
    watched = joint
    reason.value = undefined
    bench.send({ t: 'watch', joint })
  }

  /** Wants the line along the travel of a control, as it would be with all else as it stands. */
  function draw(control: string, output: string) {
    const message = { t: 'plot', control, output } as const
    plotted = control ? message : undefined
    plot.value = undefined
    bench.send(message)
  }

  return { reason, plot, watch, draw }
})
