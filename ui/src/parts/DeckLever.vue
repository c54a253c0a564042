<script setup lang="ts">
/** An axis that is no stick: a slider, left where it is put or sprung. */
import Slider from 'primevue/slider'

import type { Control } from '../api/client'

const props = defineProps<{ control: Control; at: number; hint: string }>()
const emit = defineEmits<{ move: [set: Record<string, number>] }>()

function release() {
  if (props.control.spring !== 'none') emit('move', { [props.control.id]: props.control.rest })
}
</script>

<template>
  <div class="lever">
    <p class="name">
      {{ control.label }} <kbd v-if="hint">{{ hint }}</kbd>
    </p>
    <Slider
      :model-value="at"
      :min="-100"
      :max="100"
      :aria-label="control.label"
      @update:model-value="$emit('move', { [control.id]: $event as number })"
      @slideend="release"
    />
  </div>
</template>

<style scoped>
.lever {
  width: 160px;
  min-height: 68px; /* as a switch, so that two stand above each other */
}

.name {
  font-size: 16px;
  margin-bottom: 20px;
}

.lever :deep(.p-slider) {
  margin: 0 10px;
}

kbd {
  font: inherit;
  font-weight: 700;
  font-size: var(--label);
}
</style>
