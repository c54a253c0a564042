<script setup lang="ts">
/** How do I get it to …: a part, what it is to do, and how to get there from now. */
import Button from 'primevue/button'
import { computed, onBeforeUnmount, shallowRef } from 'vue'

import { api } from '../api/client'
import { useRevised } from '../composables/useRevised'
import WayTo from '../parts/WayTo.vue'
import { useBench } from '../stores/bench'
import { useWays } from '../stores/ways'

const bench = useBench()
const ways = useWays()
const { answer: goals, problem } = useRevised(
  () => bench.model?.id ?? '',
  (id, signal) => api.GET('/api/models/{id}/goals', { params: { path: { id } }, signal }),
)
const device = shallowRef('')
const of = computed(() => goals.value?.find((one) => one.id === device.value))
const asked = computed(() => {
  const goal = ways.asked
  return goal && 'device' in goal && goal.device === device.value ? goal.does : ''
})
function choose(event: Event) {
  device.value = (event.target as HTMLSelectElement).value
  if (ways.asked) ways.ask()
}
onBeforeUnmount(() => {
  if (ways.asked) ways.ask()
})
</script>

<template>
  <section class="how" aria-label="How do I get it to …?">
    <h3>How do I get it to …?</h3>
    <p v-if="problem" class="fault">{{ problem.title }}</p>
    <p v-else-if="goals && !goals.length" class="soft">
      Nothing is plugged in yet that could do anything: add a part in Kit.
    </p>
    <template v-else>
      <label class="label"
        >Which part
        <select class="box" :value="device" data-how="device" @change="choose">
          <option value="">choose it</option>
          <option v-for="one in goals" :key="one.id" :value="one.id">{{ one.label }}</option>
        </select></label
      >
      <p v-if="of" class="acts" role="group" aria-label="What it is to do">
        <Button
          v-for="one in of.says"
          :key="one.key"
          class="quiet"
          :aria-pressed="asked === one.key"
          :data-how="one.key"
          @click="ways.ask({ device, does: one.key })"
          >{{ one.words }}</Button
        >
      </p>
      <WayTo v-if="asked" title="From how it stands now:" />
    </template>
  </section>
</template>

<style scoped>
.how {
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 8px 0;
}

[aria-pressed='true'] {
  background: var(--ink);
  color: var(--sheet);
}

select {
  max-width: 100%;
}
</style>
