<script setup lang="ts">
/** The same hands twice: the model as it should be, and with what is wrong. */
import { useIntervalFn, usePreferredReducedMotion } from '@vueuse/core'
import { computed, shallowRef, watch } from 'vue'

import { api, type Film, type Look, type NamedFault } from '../api/client'
import StagePicture from '../stage/StagePicture.vue'
import { useBench } from '../stores/bench'

const props = defineProps<{ faults: NamedFault[]; hands: Look['hands'] }>()
const bench = useBench()
const films = shallowRef<Film[]>()
const failed = shallowRef('')
const at = shallowRef(0)
const calm = usePreferredReducedMotion()

watch(
  () => JSON.stringify([props.faults, props.hands]), // both are made anew with every drawing of the list
  async () => {
    const id = bench.model?.id
    if (!id) return
    const ask = (faults: NamedFault[]) =>
      api.POST('/api/models/{id}/diagnosis/film', {
        params: { path: { id } },
        body: { faults, hands: props.hands },
      })
    const both = await Promise.all([ask([]), ask(props.faults)]).catch(() => undefined)
    const problem = both?.find((one) => one.error)?.error
    failed.value = both ? (problem?.detail ?? '') : 'the server does not answer'
    const list = both?.flatMap((one) => one.data ?? []) ?? []
    films.value = list.length === 2 ? list : undefined
    at.value = 0
  },
  { immediate: true },
)
const last = computed(() => (films.value?.[0]?.frames.length ?? 1) - 1)
/** After the last frame it stands for a while, then begins again. */
const rest = 12
useIntervalFn(
  () => (at.value = at.value >= last.value + rest ? 0 : at.value + 1),
  () => films.value?.[0]?.every_ms ?? 100,
)
const frame = computed(() => (calm.value === 'reduce' ? last.value : Math.min(at.value, last.value)))
const titles = ['As it should be', 'With this cause']
</script>

<template>
  <p v-if="failed" class="fault">It cannot be shown: {{ failed }}.</p>
  <div v-else-if="films" class="films">
    <figure v-for="(film, i) in films" :key="i">
      <figcaption>{{ titles[i] }}</figcaption>
      <StagePicture
        :picture="film.picture"
        :values="film.frames[frame] ?? []"
        :at="0"
        :words="titles[i] ?? ''"
        still
      />
    </figure>
  </div>
</template>

<style scoped>
.films {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}

figure {
  margin: 6px 0;
  height: 260px;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
}

@media (width < 560px) {
  figure {
    height: 190px;
  }
}
</style>
