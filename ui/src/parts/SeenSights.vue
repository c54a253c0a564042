<script setup lang="ts">
/** What can be looked at, each with what it can be seen to do; pressed again, it was not looked at. */
import Button from 'primevue/button'

import type { Diagnosis } from '../api/client'
import { capital } from '../figures'

defineProps<{ devices: Diagnosis['sights']['devices'] }>()
/** What was seen, by device. */
const saw = defineModel<Record<string, string>>({ required: true })

function say(device: string, key: string) {
  const { [device]: was, ...others } = saw.value
  saw.value = was === key ? others : { ...others, [device]: key }
}
</script>

<template>
  <div v-for="one in devices" :key="one.id" class="sight" :data-sight="one.id">
    <span>{{ capital(one.label) }}</span>
    <span class="says">
      <Button
        v-for="way in one.says"
        :key="way.key"
        class="quiet"
        :aria-pressed="saw[one.id] === way.key"
        :aria-label="`${one.label}: ${way.words}`"
        @click="say(one.id, way.key)"
        >{{ way.words }}</Button
      >
    </span>
  </div>
</template>

<style scoped>
.sight {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 12px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}

.says {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.says [aria-pressed='true'] {
  background: var(--ink);
  color: var(--sheet);
}
</style>
