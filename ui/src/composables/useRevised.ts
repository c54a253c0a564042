import { onBeforeUnmount, shallowRef, watch, type ShallowRef } from 'vue'

import { unreachable, type Problem } from '../api/client'
import { useBench } from '../stores/bench'

/**
 * What the server says of the newest revision of a model, asked for each, and again once a lost connection is
 * back; the last answer stays on.
 */
export function useRevised<T>(
  id: () => string,
  get: (id: string, signal: AbortSignal) => Promise<{ data?: T; error?: Problem }>,
  also: () => unknown = () => 0, // it is asked anew when this changes too
) {
  const bench = useBench()
  const answer: ShallowRef<T | undefined> = shallowRef()
  const problem = shallowRef<Problem>()
  let control: AbortController | undefined

  async function ask() {
    control?.abort()
    const own = (control = new AbortController())
    const came = await get(id(), own.signal).catch(() => ({ data: undefined, error: unreachable }))
    if (own.signal.aborted) return
    problem.value = came.error
    answer.value = came.data ?? answer.value
  }
  watch([() => id(), () => bench.model, () => also()], ([, now]) => void (now && ask()), { immediate: true })
  onBeforeUnmount(() => control?.abort())

  return { answer, problem }
}
