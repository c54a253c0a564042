import { defineStore } from 'pinia'
import { shallowRef, watch } from 'vue'

import { api } from '../api/client'
import { useBench } from './bench'

/** How far the walks of a model are, in a few words for the rail: anew for each revision and each tick. */
export const useTrying = defineStore('trying', () => {
  const bench = useBench()
  const says = shallowRef('')

  async function ask() {
    const id = bench.model?.id
    if (!id) return
    const answer = await api
      .GET('/api/models/{id}/trying', { params: { path: { id } } })
      .catch(() => ({ data: undefined }))
    if (bench.model?.id === id && answer.data) says.value = answer.data.says
  }
  watch(
    () => [bench.model?.id, bench.model?.revision],
    ([id], before) => {
      if (id !== before?.[0]) says.value = ''
      void ask()
    },
    { immediate: true },
  )

  return { says, ask }
})
