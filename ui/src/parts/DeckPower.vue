<script setup lang="ts">
/** What is turned on and off beside the deck: the transmitter, the signal and the receivers. */
import type { Control } from '../api/client'
import DeckSwitch from './DeckSwitch.vue'

defineProps<{ power: Control[]; hands: Record<string, number | string> }>()
/** So many stand below each other at their full height. */
const rows = 3

defineEmits<{ move: [set: Record<string, number | string>] }>()
</script>

<template>
  <div class="power" :class="{ many: power.length > rows }" role="group" aria-label="Power and signal">
    <DeckSwitch
      v-for="control in power"
      :key="control.id"
      :control="control"
      :at="String(hands[control.id] ?? '')"
      hint=""
      @move="$emit('move', $event)"
    />
  </div>
</template>

<style scoped>
.power {
  display: flex;
  flex-direction: column;
  gap: 3px;
  max-height: 141px;
  flex: none;
  overflow: hidden auto;
}

.power :deep(.switch) {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
}

.power :deep(.name) {
  max-width: 96px;
  font-size: var(--label);
  color: var(--soft);
  line-height: 1.1;
  overflow-wrap: anywhere;
}

.power :deep(.positions) {
  flex: none;
}

.many :deep([data-switch]) {
  min-height: 31px;
}
</style>
