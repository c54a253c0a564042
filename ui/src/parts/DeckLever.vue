<script setup lang="ts">
/** An axis that is no stick: a lever or a slider as it runs, left where it is put or sprung. */
import { computed } from 'vue'

import type { Control } from '../api/client'
import { axisWords, goesBack } from '../composables/axis'
import { useHold } from '../composables/useHold'

const props = defineProps<{ control: Control; at: number; hint: string }>()
const emit = defineEmits<{ move: [set: Record<string, number>] }>()

const upright = computed(() => props.control.along === 'y')

const { held, take, release } = useHold(spring)

function spring() {
  if (held.value === undefined && goesBack(props.control, props.at))
    emit('move', { [props.control.id]: props.control.rest })
}

function slide(event: Event) {
  emit('move', { [props.control.id]: Number((event.target as HTMLInputElement).value) })
}
</script>

<template>
  <label class="lever" :class="{ upright }">
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
      :aria-orientation="upright ? 'vertical' : 'horizontal'"
      :aria-valuetext="axisWords(control, at)"
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
}

input {
  appearance: none;
  display: block;
  width: 130px;
  height: 43px;
  margin: 0;
  background: none;
  touch-action: none;
  cursor: grab;
}

.upright input {
  writing-mode: vertical-lr;
  direction: rtl; /* + is away from the person */
  width: 43px;
  height: 118px;
}

input::-webkit-slider-runnable-track {
  block-size: 3px;
  background: var(--ink);
}

input::-moz-range-track {
  block-size: 3px;
  background: var(--ink);
}

input::-webkit-slider-thumb {
  appearance: none;
  width: 24px;
  height: 24px;
  margin-block-start: -10.5px;
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
</style>
