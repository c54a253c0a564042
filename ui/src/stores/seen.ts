import { useSessionStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'

import { api, unreachable, type Diagnosis, type Look, type Problem } from '../api/client'
import { useBench } from './bench'

/** What was tried on a model and what was seen of it, and which faults explain it. A reload keeps it. */
export const useSeen = defineStore('seen', () => {
  const bench = useBench()
  const all = useSessionStorage<Record<string, Look[]>>('axtren.seen', {})
  const looks = computed(() => all.value[bench.model?.id ?? ''] ?? [])
  const answer = shallowRef<Diagnosis>()
  const problem = shallowRef<Problem>()
  const asking = shallowRef(false)
  let asked = 0

  /** Asks what explains all that was seen. */
  async function ask() {
    const id = bench.model?.id
    if (!id) return
    const turn = ++asked
    asking.value = true
    const said = await api
      .POST('/api/models/{id}/diagnosis', { params: { path: { id } }, body: { looks: looks.value } })
      .catch(() => ({ data: undefined, error: unreachable }))
    if (turn !== asked) return
    asking.value = false
    problem.value = said.error
    answer.value = said.data ?? answer.value
  }

  function keep(list: Look[]) {
    all.value = { ...all.value, [bench.model?.id ?? '']: list }
    void ask()
  }
  const add = (look: Look) => keep([...looks.value, look])
  const remove = (at: number) => keep(looks.value.filter((_, i) => i !== at))
  const again = () => keep([])
  /** What is known from elsewhere is asked for at once, instead of what was seen before. */
  const wanted = shallowRef(false)
  const left = shallowRef(0)
  function take(list: Look[], without: number) {
    left.value = without
    wanted.value = true
    keep(list)
  }

  watch(
    () => bench.model?.id,
    () => {
      asked++
      answer.value = problem.value = undefined
      wanted.value = false
      left.value = 0
    },
  )

  return { looks, answer, problem, asking, wanted, left, ask, add, remove, again, take }
})
