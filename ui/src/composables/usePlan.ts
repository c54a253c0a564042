import { useDebounceFn } from '@vueuse/core'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import { api, unreachable, type Planned, type Problem } from '../api/client'
import { useBench } from '../stores/bench'

/** How many parts of the answers are looked at before the server says how far it is. */
const firstLooks = 2000

/** What goes where, worked out anew for every revision; one that takes long is told as far as it is. */
export function usePlan(id: () => string) {
  const bench = useBench()
  const planned = shallowRef<Planned>()
  const problem = shallowRef<Problem>()
  const asking = shallowRef(false)
  /** Whether the plan is for the model as it is now; else there is nothing to be pressed. */
  const current = computed(() => planned.value?.revision === bench.model?.revision)
  let looks = firstLooks
  let control: AbortController | undefined

  async function ask() {
    control?.abort()
    const own = (control = new AbortController())
    asking.value = true
    const answer = await api
      .GET('/api/models/{id}/plan', {
        params: { path: { id: id() }, query: { looks } },
        signal: own.signal,
      })
      .catch(() => ({ data: undefined, error: unreachable }))
    if (own.signal.aborted) return
    asking.value = false
    problem.value = answer.error
    planned.value = answer.data ?? planned.value
  }

  /** Looks ten times as long. */
  function lookOn() {
    looks *= 10
    void ask()
  }

  function stop() {
    control?.abort()
    asking.value = false
  }

  const askSoon = useDebounceFn(ask, 200)
  watch(
    [() => id(), () => bench.model],
    ([, now], before) => {
      looks = firstLooks
      if (now) void (before[1] ? askSoon() : ask())
    },
    { immediate: true },
  )
  onBeforeUnmount(() => control?.abort())

  return { planned, problem, asking, current, ask, lookOn, stop }
}
