import { defineStore } from 'pinia'
import { shallowRef, watch } from 'vue'

import { api } from '../api/client'
import { useBench } from './bench'

/**
 * What is kept of a model beside its document, its walks and what happened: how far the walks are, in a few
 * words for the rail, and when any of it is no longer as it was, on whichever page that was done.
 */
export const useTrying = defineStore('trying', () => {
  const bench = useBench()
  const says = shallowRef('')
  /** So often something else was kept than was. */
  const kept = shallowRef(0)

  async function ask() {
    const id = bench.model?.id
    if (!id) return
    const answer = await api
      .GET('/api/models/{id}/trying', { params: { path: { id } } })
      .catch(() => ({ data: undefined }))
    if (bench.model?.id === id && answer.data) says.value = answer.data.says
  }
  watch(
    [() => bench.model?.id, () => bench.model?.revision],
    ([id], before) => {
      if (id !== before?.[0]) says.value = ''
      void ask()
    },
    { immediate: true },
  )

  function anew() {
    kept.value++
    void ask()
  }
  bench.add({
    take: { kept: anew },
    again: () => {
      if (bench.whole) anew() // nobody knows what was kept while the connection was lost
      return []
    },
    forget: () => {},
  })

  return { says, kept }
})
