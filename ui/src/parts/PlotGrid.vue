<script setup lang="ts">
/** The grid of a plot of percent over percent, with its figures. */
import { setting } from '../figures'
import type { Plot } from './plot'

defineProps<{ plot: Plot }>()
const signed = (v: number) => (v > 0 ? '+' : '') + setting(v)
</script>

<template>
  <g>
    <g v-for="v in [-100, -50, 0, 50, 100]" :key="v" :class="{ zero: v === 0 }">
      <line :x1="plot.x(v)" :x2="plot.x(v)" :y1="plot.y(150)" :y2="plot.y(-150)" />
      <line :x1="plot.x(-100)" :x2="plot.x(100)" :y1="plot.y(v)" :y2="plot.y(v)" />
      <text :x="plot.x(v)" :y="plot.h - 10" text-anchor="middle">{{ signed(v) }}</text>
      <text :x="plot.left - 6" :y="plot.y(v) + 4" text-anchor="end">{{ signed(v) }}</text>
    </g>
  </g>
</template>

<style scoped>
line {
  stroke: var(--rule);
}

.zero line {
  stroke: var(--soft);
}

text {
  font: 12.5px var(--mono);
  fill: var(--soft);
}
</style>
