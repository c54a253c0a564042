<script setup lang="ts">
/**
 * The mark of a turning: an arrow up the page from a place, as long as it turns fast, with its figure; the
 * other way for back.
 */
import { computed } from 'vue'

const props = defineProps<{ turn: number; from: number; longest: number; unit: number; upright: number }>()
const tip = computed(() => -props.from - (Math.abs(props.turn) / 100) * props.longest)
</script>

<template>
  <g class="arrow" :transform="turn < 0 ? 'scale(1 -1)' : undefined">
    <line x1="0" x2="0" :y1="-from" :y2="tip" />
    <path
      :transform="`translate(0 ${tip})`"
      :d="`M${-unit * 8} ${unit * 11} L0 0 L${unit * 8} ${unit * 11}`"
    />
    <g :transform="`translate(0 ${tip - unit * 13}) ${turn < 0 ? 'scale(1 -1)' : ''} rotate(${-upright})`">
      <text :font-size="unit * 15" :y="unit * 5" text-anchor="middle">{{ Math.round(Math.abs(turn)) }}</text>
    </g>
  </g>
</template>

<style scoped>
text {
  fill: var(--ink);
  stroke: var(--sheet);
  stroke-width: 4;
  paint-order: stroke;
  vector-effect: non-scaling-stroke;
  font-weight: 600;
}

line,
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}
</style>
