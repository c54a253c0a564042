<script setup lang="ts">
/**
 * The curve of a feel, its points dragged or moved by keys, with the point at which it is now. What it
 * becomes is tried while it is dragged, and kept when it is let go.
 */
import Button from 'primevue/button'
import { computed, shallowRef, useTemplateRef, watch } from 'vue'

import type { Field, Schemas } from '../api/client'
import { setting } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import { joined, plotOf } from './plot'
import PlotGrid from './PlotGrid.vue'

type Point = [number, number]
const props = defineProps<{ curve: Schemas['FeelCurve']; field: Field; joint: string; name: string }>()
const bench = useBench()
const edits = useEdits()
const svg = useTemplateRef<SVGSVGElement>('svg')

const own = () => props.curve.points.map(([x, y]): Point => [x ?? 0, y ?? 0])
const points = shallowRef(own())
const held = shallowRef<number>()
const at = shallowRef(0)
watch(
  () => props.curve.points,
  () => {
    if (held.value === undefined) points.value = own()
  },
)

const plot = plotOf(340, 300)
const { x, y } = plot
const changed = computed(() => JSON.stringify(points.value) !== JSON.stringify(own()))
/** A rounded curve is drawn by the server: while a point is moved its points are joined. */
const line = computed(() => {
  if (props.curve.smooth && !changed.value) return props.curve.line
  const [first, last] = [points.value[0], points.value.at(-1)]
  if (!first || !last) return []
  return [[-100, first[1]], ...points.value, [100, last[1]]]
})
const path = computed(() => joined(plot, line.value))
/** What comes in and what comes out now: the joint of the feel says where it stands. */
const places = computed(() => {
  for (const block of bench.view?.blocks ?? [])
    for (const joint of block.chains.flat()) if (joint.key === props.joint) return joint.curve
  return undefined
})
const now = computed(() => {
  const [from, to] = places.value ?? []
  if (from === undefined || to === undefined) return undefined
  return { in: bench.values[from] ?? 0, out: bench.values[to] ?? 0 }
})

const rows = (list: Point[]) => list.map(([a, b]) => [String(a), String(b)])
const clamp = (v: number, low: number, high: number) => Math.min(Math.max(Math.round(v), low), high)
/** Puts a point elsewhere: between its neighbours, the levels within what travel there is. */
function put(i: number, to: Point) {
  const [before, after] = [points.value[i - 1], points.value[i + 1]]
  const low = before ? Math.ceil(before[0] + 1) : -100
  const high = after ? Math.floor(after[0] - 1) : 100
  const next: Point = [clamp(to[0], low, high), clamp(to[1], -150, 150)]
  points.value = points.value.map((one, k) => (k === i ? next : one))
  edits.attempt(props.field, rows(points.value))
}
async function keep() {
  held.value = undefined
  if (!changed.value) return edits.drop()
  const outcome = await edits.set(props.field, rows(points.value))
  if (!outcome.kept) points.value = own()
}

function take(i: number, event: PointerEvent) {
  held.value = at.value = i
  svg.value?.setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent) {
  const matrix = svg.value?.getScreenCTM()
  if (held.value === undefined || !matrix) return
  const seen = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
  put(held.value, plot.at(seen.x, seen.y))
}
function drop() {
  if (held.value !== undefined) void keep()
}
/** A point is moved by keys while it is chosen: one percent, with Shift ten. */
function key(i: number, event: KeyboardEvent) {
  const by = event.shiftKey ? 10 : 1
  const ways: Record<string, Point> = {
    ArrowLeft: [-by, 0],
    ArrowRight: [by, 0],
    ArrowUp: [0, by],
    ArrowDown: [0, -by],
  }
  const way = ways[event.key]
  const from = points.value[i]
  if (!way || !from) return
  event.preventDefault()
  event.stopPropagation()
  held.value = i
  put(i, [from[0] + way[0], from[1] + way[1]])
}

/** A new point goes to the middle of the widest gap, where the curve is. */
async function add() {
  let widest = 1
  const gap = (k: number) => (points.value[k]?.[0] ?? 0) - (points.value[k - 1]?.[0] ?? 0)
  for (let k = 1; k < points.value.length; k++) if (gap(k) > gap(widest)) widest = k
  const [a, b] = [points.value[widest - 1], points.value[widest]]
  if (!a || !b) return
  const middle: Point = [Math.round((a[0] + b[0]) / 2), Math.round((a[1] + b[1]) / 2)]
  points.value = points.value.toSpliced(widest, 0, middle)
  at.value = widest
  await keep()
}
async function remove() {
  points.value = points.value.toSpliced(at.value, 1)
  at.value = Math.max(at.value - 1, 0)
  await keep()
}
const chosen = computed(() => points.value[at.value])
const gaps = computed(() => points.value.length < 33)
</script>

<template>
  <div class="curve" :data-curve="points.length">
    <svg
      ref="svg"
      :viewBox="`0 0 ${plot.w} ${plot.h}`"
      role="group"
      :aria-label="`The curve of ${name}`"
      @pointermove="drag"
      @pointerup="drop"
      @pointercancel="drop"
    >
      <PlotGrid :plot="plot" />
      <path :d="path" class="line" />
      <circle
        v-for="(point, i) in points"
        :key="i"
        :cx="x(point[0])"
        :cy="y(point[1])"
        r="9"
        class="point"
        :class="{ chosen: at === i }"
        tabindex="0"
        role="slider"
        :data-point="i"
        :aria-label="`Point ${i + 1} of ${points.length}`"
        :aria-valuenow="point[1]"
        aria-valuemin="-150"
        aria-valuemax="150"
        :aria-valuetext="`${setting(point[0])} becomes ${setting(point[1])} percent`"
        @pointerdown.prevent="take(i, $event)"
        @focus="at = i"
        @keydown="key(i, $event)"
        @keyup="drop"
        @blur="drop"
      />
      <circle v-if="now" :cx="x(now.in)" :cy="y(now.out)" r="6" class="now" />
    </svg>
    <p v-if="chosen" class="soft">
      Point {{ at + 1 }} of {{ points.length }}: {{ setting(chosen[0]) }} becomes {{ setting(chosen[1]) }} %.
      {{
        curve.bare ? 'Across is the hand itself.' : 'Across is what comes in after dead band, expo and rate.'
      }}
    </p>
    <p class="acts">
      <Button class="quiet" :disabled="!gaps" @click="add">A point more</Button>
      <Button class="quiet" :disabled="points.length < 3" @click="remove">Remove this point</Button>
    </p>
  </div>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 440px;
  touch-action: none;
}

.line {
  fill: none;
  stroke: var(--petrol);
  stroke-width: 2.5;
}

.point {
  fill: var(--sheet);
  stroke: var(--petrol);
  stroke-width: 3;
  cursor: grab;
}

.point.chosen {
  fill: var(--petrol);
}

.now {
  pointer-events: none;
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
