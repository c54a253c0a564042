<script setup lang="ts">
/** The ground with the model on it, where it has been, and where it goes. */
import { useElementSize } from '@vueuse/core'
import { computed, shallowRef, useId, useTemplateRef, watch } from 'vue'

import type { Picture } from '../api/client'
import { sceneOf, way } from './numbers'
import StageTree from './StageTree.vue'

const props = defineProps<{
  picture: Picture
  values: number[]
  at: number
  words: string
  /** It stands still and small: no ground, no way. */
  still?: boolean
}>()
const hatch = useId()
const grid = useId()
const scene = computed(() => sceneOf(props.picture, props.values, props.at))

/** The frame, as high as it is given room for, and what of the ground it shows. */
const frame = useTemplateRef<SVGElement>('frame')
const { width, height } = useElementSize(frame, { width: 370, height: 310 }, { box: 'border-box' })
const ratio = computed(() => (height.value || 310) / (width.value || 370))
/** What is seen from the side, with a margin, whole. */
const box = computed(() => {
  const [left = 0, down = 0, right = 0, up = 0] = props.picture.box ?? []
  const margin = Math.max(right - left, up - down) * 0.08
  return { x: left - margin, y: -up - margin, w: right - left + 2 * margin, h: up - down + 2 * margin }
})
/** Seen from above the shorter way shows the span. */
const wide = computed(() => {
  // alone and still it needs no ground round it
  const span = props.picture.span * (props.still ? 0.72 : 1)
  if (above.value) return ratio.value < 1 ? span / ratio.value : span
  return Math.max(box.value.w, box.value.h / ratio.value)
})
const high = computed(() => wide.value * ratio.value)
/** One pixel, or so, in millimetres. */
const unit = computed(() => wide.value / Math.max(width.value, 200))
const above = computed(() => props.picture.view === 'above')

/** Where the page looks: it follows the model, which may lead a little. */
const eye = shallowRef({ x: 0, y: 0 })
/** Where the model has been, with its heading, so that each track leaves its own line. */
const trail = shallowRef<{ x: number; y: number; heading: number; t: number }[]>([])
const keptMs = 8000

watch([() => scene.value.x, () => scene.value.y, () => scene.value.heading], ([x, y, heading]) => {
  const room = props.picture.span * 0.06
  const near = (at: number, look: number) => Math.min(Math.max(look, at - room), at + room)
  const back = x === 0 && y === 0
  eye.value = back ? { x: 0, y: 0 } : { x: near(x, eye.value.x), y: near(y, eye.value.y) }
  const now = performance.now()
  const last = trail.value.at(-1)
  const far = last ? Math.hypot(x - last.x, y - last.y) : unit.value * 5
  if (back || far > props.picture.span) trail.value = []
  else if (far > unit.value * 4)
    trail.value = [...trail.value.filter((p) => now - p.t < keptMs), { x, y, heading, t: now }]
})

/** How far to either side what leaves a line lies: tracks, wheels, screws. */
const leaves = computed(() => {
  const parts = props.picture.parts.filter((p) => !p.row && p.on < 0)
  const sides = parts.flatMap((p) => {
    if (p.part === 'track' || p.part === 'screw') return [p.side]
    return p.part === 'axle' ? [-p.width / 2, p.width / 2] : []
  })
  return [...new Set(sides)]
})
const lines = computed(() =>
  leaves.value.map((aside) =>
    trail.value
      .map(({ x, y, heading }) => {
        const turned = (heading * Math.PI) / 180
        return `${y + aside * Math.cos(turned)},${-(x - aside * Math.sin(turned))}`
      })
      .join(' '),
  ),
)

const view = computed(() => {
  const [w, h] = [wide.value, high.value]
  if (above.value) return `${eye.value.y - w / 2} ${-eye.value.x - h / 2} ${w} ${h}`
  return `${box.value.x - (w - box.value.w) / 2} ${box.value.y - (h - box.value.h) / 2} ${w} ${h}`
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
    <svg
      v-if="placed"
      ref="frame"
      :viewBox="view"
      :role="still ? undefined : 'img'"
      :aria-hidden="still"
      :aria-label="still ? undefined : words"
      :class="{ side: !above, still }"
    >
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
        v-if="above && !still"
        :x="corner.left"
        :y="corner.top"
        :width="wide"
        :height="high"
        :fill="`url(#${grid})`"
      />
      <polyline v-for="(points, i) in lines" :key="i" class="trail" :points="points" />
      <g v-if="above" :transform="`translate(${scene.y} ${-scene.x}) rotate(${scene.heading})`">
        <path v-if="picture.goes && !still" :d="way(scene.asked)" class="asked" />
        <path v-if="picture.goes && !still" :d="way(scene.taken)" class="taken" />
        <StageTree
          :picture="picture"
          :poses="scene.poses"
          :on="-1"
          :unit="unit"
          :hatch="hatch"
          :upright="scene.heading"
        />
        <g
          v-if="scene.pivot && picture.goes"
          :transform="`translate(${scene.pivot.side} ${-scene.pivot.ahead}) rotate(${-scene.heading})`"
        >
          <path :d="`M${-unit * 7} 0 H${unit * 7} M0 ${-unit * 7} V${unit * 7}`" class="pivot" />
          <text
            v-if="Math.hypot(scene.pivot.ahead, scene.pivot.side) > picture.span / 3"
            :y="unit * 22"
            :font-size="unit * 14.5"
            text-anchor="middle"
            class="small"
          >
            turns about here
          </text>
        </g>
      </g>
      <line
        v-if="picture.water !== undefined"
        class="water"
        :x1="corner.left"
        :x2="corner.left + wide"
        :y1="-picture.water"
        :y2="-picture.water"
      />
      <StageTree
        v-if="!above"
        :picture="picture"
        :poses="scene.poses"
        :on="-1"
        :unit="unit"
        :hatch="hatch"
        :upright="0"
      />
      <g v-if="above && !still" :transform="`translate(${corner.x} ${corner.y})`" class="scale">
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
    <p v-if="scene.free && placed && !still" class="free"><span aria-hidden="true">○</span> hands off</p>
  </div>
</template>

<style scoped>
.picture {
  position: relative;
}

svg {
  display: block;
  width: 100%;
  aspect-ratio: 1 / 0.72;
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

.trail {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.5;
  stroke-dasharray: 2 4;
  vector-effect: non-scaling-stroke;
}

.still {
  border: 0;
  background: none;
}

.still :deep(.solid) {
  stroke-width: 1.3;
}

.still :deep(.thin),
.still :deep(.bar),
.still :deep(.ink) {
  stroke-width: 0.6;
}

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
  font-size: 0.9375rem;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  border-radius: 20px;
}
</style>
