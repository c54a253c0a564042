<script setup lang="ts">
/**
 * The ground with the model on it, where it has been, and where it goes; the parts without a place in a row
 * below.
 */
import { computed, shallowRef, useId, watch } from 'vue'

import type { Picture } from '../api/client'
import { sceneOf, way } from './numbers'
import StageRow from './StageRow.vue'
import StageTree from './StageTree.vue'

const props = defineProps<{
  picture: Picture
  values: number[]
  at: number
  words: string
  /** What each part without a place does; left out where the row is not shown. */
  row?: string[]
}>()
const hatch = useId()
const grid = useId()
const height = 0.84
const scene = computed(() => sceneOf(props.picture, props.values, props.at))
const span = computed(() => props.picture.span)
/** One pixel, or so, in millimetres. */
const unit = computed(() => span.value / 370)
const above = computed(() => props.picture.view === 'above')

/** Where the page looks: it follows the model once that nears an edge. */
const eye = shallowRef({ x: 0, y: 0 })
const trail = shallowRef<{ x: number; y: number; t: number }[]>([])
const keptMs = 6000

watch(
  () => [scene.value.x, scene.value.y] as const,
  ([x, y]) => {
    const room = span.value * 0.17
    const near = (at: number, look: number) => Math.min(Math.max(look, at - room), at + room)
    const back = x === 0 && y === 0
    eye.value = back ? { x: 0, y: 0 } : { x: near(x, eye.value.x), y: near(y, eye.value.y) }
    const now = performance.now()
    const last = trail.value.at(-1)
    const far = last ? Math.hypot(x - last.x, y - last.y) : unit.value * 5
    if (back || far > span.value) trail.value = []
    else if (far > unit.value * 4)
      trail.value = [...trail.value.filter((p) => now - p.t < keptMs), { x, y, t: now }]
  },
)

const view = computed(() => {
  const w = span.value
  const h = w * height
  if (above.value) return `${eye.value.y - w / 2} ${-eye.value.x - h / 2} ${w} ${h}`
  return `${-w * 0.42} ${-h * 0.74} ${w} ${h}`
})
const corner = computed(() => {
  const [x = 0, y = 0, w = 0, h = 0] = view.value.split(' ').map(Number)
  return { x: x + w - unit.value * 30, y: y + h - unit.value * 22, left: x, top: y }
})
const placed = computed(() => props.picture.parts.some((p) => !p.row))
/** The bar of the scale, a tick at each end. */
const bar = computed(() => {
  const [tick, long] = [unit.value * 6, props.picture.scale]
  return `M0 ${-tick} V${tick} M0 0 H${-long} M${-long} ${-tick} V${tick}`
})
const scaleWords = computed(() =>
  props.picture.scale >= 1000 ? `${props.picture.scale / 1000} m` : `${props.picture.scale} mm`,
)
</script>

<template>
  <div class="picture">
    <svg v-if="placed" :viewBox="view" role="img" :aria-label="words" :class="{ side: !above }">
      <pattern
        :id="hatch"
        :width="unit * 7"
        :height="unit * 7"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" :y2="unit * 7" class="hatching" :stroke-width="unit * 2" />
      </pattern>
      <pattern
        :id="grid"
        :width="picture.scale / 2"
        :height="picture.scale / 2"
        patternUnits="userSpaceOnUse"
      >
        <path :d="`M0 0 H${picture.scale / 2} M0 0 V${picture.scale / 2}`" class="gridLine" />
      </pattern>
      <rect
        v-if="above"
        :x="corner.left"
        :y="corner.top"
        :width="span"
        :height="span * height"
        :fill="`url(#${grid})`"
      />
      <polyline v-if="trail.length" class="trail" :points="trail.map((p) => `${p.y},${-p.x}`).join(' ')" />
      <g v-if="above" :transform="`translate(${scene.y} ${-scene.x}) rotate(${scene.heading})`">
        <path v-if="picture.goes" :d="way(scene.asked)" class="asked" />
        <path v-if="picture.goes" :d="way(scene.taken)" class="taken" />
        <StageTree :picture="picture" :poses="scene.poses" :on="-1" :unit="unit" :hatch="hatch" />
        <g
          v-if="scene.pivot && picture.goes"
          :transform="`translate(${scene.pivot.side} ${-scene.pivot.ahead}) rotate(${-scene.heading})`"
        >
          <path :d="`M${-unit * 7} 0 H${unit * 7} M0 ${-unit * 7} V${unit * 7}`" class="pivot" />
          <text :y="unit * 22" :font-size="unit * 14.5" text-anchor="middle" class="small">
            turns about here
          </text>
        </g>
      </g>
      <line
        v-if="picture.water !== undefined"
        class="water"
        :x1="corner.left"
        :x2="corner.left + span"
        :y1="-picture.water"
        :y2="-picture.water"
      />
      <StageTree v-if="!above" :picture="picture" :poses="scene.poses" :on="-1" :unit="unit" :hatch="hatch" />
      <g v-if="above" :transform="`translate(${corner.x} ${corner.y})`" class="scale">
        <path :d="bar" />
        <text
          :x="-picture.scale / 2"
          :y="-unit * 5"
          :font-size="unit * 14.5"
          text-anchor="middle"
          class="small"
        >
          {{ scaleWords }}
        </text>
      </g>
    </svg>
    <p v-if="scene.free" class="free"><span aria-hidden="true">○</span> hands off</p>
    <StageRow v-if="row" :picture="picture" :poses="scene.poses" :words="row" />
  </div>
</template>

<style scoped>
.picture {
  position: relative;
}

svg {
  display: block;
  width: 100%;
  aspect-ratio: 1 / 0.84;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  border-radius: 4px;
}

.hatching {
  stroke: var(--soft);
}

.gridLine {
  fill: none;
  stroke: var(--rule);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.trail,
.taken,
.asked,
.pivot,
.scale path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}

.asked {
  stroke-dasharray: 4 4;
}

.taken {
  stroke: var(--petrol);
  stroke-width: 2.5;
}

.water {
  stroke: var(--petrol);
  stroke-width: 2;
  stroke-dasharray: 14 5;
  vector-effect: non-scaling-stroke;
}

.small {
  fill: var(--soft);
}

.free {
  position: absolute;
  top: 8px;
  left: 10px;
  padding: 2px 10px;
  font-size: 15px;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  border-radius: 20px;
}
</style>
