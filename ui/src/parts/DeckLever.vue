<script setup lang="ts">
/** An axis that is no stick: a slider, left where it is put or sprung. */
import type { Control } from '../api/client'
import { useHold } from '../composables/useHold'

const props = defineProps<{ control: Control; at: number; hint: string }>()
const emit = defineEmits<{ move: [set: Record<string, number>] }>()

const { held, take, release } = useHold(spring)

function spring() {
  if (held.value !== undefined || props.control.spring === 'none' || props.at === props.control.rest) return
  emit('move', { [props.control.id]: props.control.rest })
}

function slide(event: Event) {
  emit('move', { [props.control.id]: Number((event.target as HTMLInputElement).value) })
}
</script>

<template>
  <label class="lever">
    <span class="name"
      >{{ control.label }} <kbd v-if="hint">{{ hint }}</kbd></span
    >
    <input
      type="range"
      min="-100"
      max="100"
      step="0.5"
      :value="at"
      :data-lever="control.id"
      :aria-label="control.label"
      :aria-valuetext="`${at} %`"
      @input="slide"
      @pointerdown="take"
      @pointerup="release"
      @pointercancel="release"
      @lostpointercapture="release"
      @keydown.home.prevent="spring"
      @keydown.escape="spring"
      @blur="spring"
    />
  </label>
</template>

<style scoped>
.lever {
  display: block;
  width: 160px;
  min-height: 68px; /* as a switch, so that two stand above each other */
}

.name {
  display: block;
  font-size: 16px;
  margin-bottom: 6px;
}

input {
  appearance: none;
  width: 140px;
  height: 40px;
  margin: 0 10px;
  background: none;
  touch-action: none;
  cursor: grab;
}

input::-webkit-slider-runnable-track {
  height: 3px;
  background: var(--ink);
}

input::-moz-range-track {
  height: 3px;
  background: var(--ink);
}

input::-webkit-slider-thumb {
  appearance: none;
  width: 24px;
  height: 24px;
  margin-top: -10.5px;
  border: 1.8px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
}

input::-moz-range-thumb {
  width: 20px;
  height: 20px;
  border: 1.8px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
}

kbd {
  font: inherit;
  font-weight: 700;
  font-size: var(--label);
}
</style>
