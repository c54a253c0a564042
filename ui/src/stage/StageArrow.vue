<script setup lang="ts">
/**
 * The mark of a turning: an arrow up the page from a place, as long as it turns fast; the other way for back.
 */
import { computed } from 'vue'

const props = defineProps<{ turn: number; from: number; longest: number; unit: number }>()
const tip = computed(() => -props.from - (Math.abs(props.turn) / 100) * props.longest)
</script>

<template>
  <g class="arrow" :transform="turn < 0 ? 'scale(1 -1)' : undefined">
    <line x1="0" x2="0" :y1="-from" :y2="tip" />
    <path
      :transform="`translate(0 ${tip})`"
      :d="`M${-unit * 8} ${unit * 11} L0 0 L${unit * 8} ${unit * 11}`"
    />
  </g>
</template>

<style scoped>
line,
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}
</style>
