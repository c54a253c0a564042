<script setup lang="ts">
/** A lamp pattern along time, and the lamp as it flashes. */
import { usePreferredReducedMotion } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, shallowRef } from 'vue'

import { rowsOf } from './places'

const props = defineProps<{ values: string[] }>()
const steps = computed(() =>
  rowsOf(props.values, 2)
    .map((row) => ({ level: Number(row[0]), seconds: Number(row[1]) }))
    .filter((step) => Number.isFinite(step.level) && step.seconds > 0),
)
const total = computed(() => steps.value.reduce((sum, step) => sum + step.seconds, 0))
/** Two seconds at least, in whole rounds. */
const rounds = computed(() => (total.value > 0 ? Math.min(40, Math.ceil(2 / total.value)) : 0))
const width = 560
const bars = computed(() => {
  const all: { x: number; width: number; level: number }[] = []
  let at = 0
  for (let round = 0; round < rounds.value; round++)
    for (const step of steps.value) {
      const wide = (step.seconds / (total.value * rounds.value)) * width
      all.push({ x: at, width: wide, level: (step.level + 100) / 200 })
      at += wide
    }
  return all
})
const still = usePreferredReducedMotion()
const lit = shallowRef(0)
let picture = 0
function flash(now: number) {
  picture = requestAnimationFrame(flash)
  if (!total.value || still.value === 'reduce') return
  let at = (now / 1000) % total.value
  for (const step of steps.value) {
    if (at < step.seconds) {
      const level = Math.max(0, Math.min(1, (step.level + 100) / 200))
      if (level !== lit.value) lit.value = level
      return
    }
    at -= step.seconds
  }
}
onMounted(() => (picture = requestAnimationFrame(flash)))
onBeforeUnmount(() => cancelAnimationFrame(picture))
</script>

<template>
  <svg
    v-if="total > 0"
    :viewBox="`0 0 ${width + 50} 40`"
    role="img"
    :aria-label="`How it flashes: ${rounds} rounds of ${total.toFixed(2)} seconds`"
    data-beat
  >
    <circle cx="20" cy="20" r="13" class="lamp" :style="{ fillOpacity: lit }" />
    <g transform="translate(48 6)">
      <rect
        v-for="(bar, i) in bars"
        :key="i"
        :x="bar.x"
        :y="28 - 28 * Math.max(0, Math.min(1, bar.level))"
        :width="Math.max(0, bar.width - 0.6)"
        :height="28 * Math.max(0, Math.min(1, bar.level))"
        class="bar"
      />
      <line x1="0" y1="28" :x2="width" y2="28" class="ground" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: min(100%, 610px);
  margin: 4px 0 8px;
}

.lamp {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 2;
}

.bar {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 0.8;
}

.ground {
  stroke: var(--ink);
  stroke-width: 1.4;
}
</style>
