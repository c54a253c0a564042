<script setup lang="ts">
/**
 * The parts of a sequence along time, one row each: key points are dragged, or moved by keys. Dashed is the
 * way back, which mirrors the way out.
 */
import { computed, shallowRef, watch } from 'vue'

import { rowsOf, spaced } from './places'

const props = defineProps<{ values: string[] }>()
const emit = defineEmits<{ change: [values: string[]] }>()
interface Track {
  name: string
  points: [number, number][]
}
const read = (): Track[] =>
  rowsOf(props.values, 2).map(([name = '', text = '']) => ({
    name,
    points: text
      .split(',')
      .map((part) => part.trim().replaceAll('−', '-').split(/\s+/).map(Number) as [number, number])
      .filter((point) => point.length === 2 && point.every(Number.isFinite)),
  }))
const tracks = shallowRef<Track[]>(read())
watch(
  () => props.values.join('|'),
  () => (tracks.value = read()),
)
const total = computed(() => Math.max(0.1, ...tracks.value.flatMap((track) => track.points.map(([t]) => t))))

const width = 560
const left = 96
const row = 58
const x = (t: number) => left + (t / (2 * total.value)) * (width - left - 8)
const y = (k: number, v: number) => k * row + 8 + ((150 - v) / 300) * (row - 16)
const way = (k: number, track: Track) => {
  const first = track.points[0]
  const last = track.points.at(-1)
  if (!first || !last) return { out: '', back: '' }
  const out = [[0, first[1]], ...track.points, [total.value, last[1]]]
  const line = (list: number[][]) =>
    list.map(([t = 0, v = 0], i) => `${i ? 'L' : 'M'} ${x(t).toFixed(1)} ${y(k, v).toFixed(1)}`).join(' ')
  return { out: line(out), back: line([...out].reverse().map(([t = 0, v = 0]) => [2 * total.value - t, v])) }
}
const seconds = computed(() => {
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 30].find((one) => total.value / one <= 6) ?? 60
  return Array.from({ length: Math.floor(total.value / step) + 1 }, (_, i) => i * step)
})

const dragged = shallowRef<[number, number]>()
function limited(k: number, i: number, t: number, v: number): [number, number] {
  const points = tracks.value[k]?.points ?? []
  const before = points[i - 1]?.[0] ?? -0.05
  const after = points[i + 1]?.[0] ?? 3600
  const round = (one: number, by: number) => Math.round(one / by) * by
  return [
    Number(Math.max(before + 0.05, Math.min(after - 0.05, round(t, 0.05))).toFixed(2)),
    Math.max(-150, Math.min(150, round(v, 1))),
  ]
}
function put(k: number, i: number, t: number, v: number) {
  tracks.value = tracks.value.map((track, at) =>
    at === k
      ? { ...track, points: track.points.map((point, n) => (n === i ? limited(k, i, t, v) : point)) }
      : track,
  )
}
const keep = () =>
  emit(
    'change',
    tracks.value.flatMap((track) => [track.name, track.points.map(([t, v]) => `${t} ${v}`).join(', ')]),
  )
let scale = 1
let held = 1
function grab(event: PointerEvent, k: number, i: number) {
  const svg = (event.target as SVGElement).ownerSVGElement
  if (!svg) return
  scale = width / svg.getBoundingClientRect().width
  held = total.value // the ruler keeps its length while a point is dragged
  dragged.value = [k, i]
  ;(event.target as SVGElement).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent) {
  if (!dragged.value) return
  const [k, i] = dragged.value
  const box = (event.target as SVGElement).ownerSVGElement?.getBoundingClientRect()
  if (!box) return
  const px = (event.clientX - box.left) * scale
  const py = (event.clientY - box.top) * scale
  put(k, i, ((px - left) / (width - left - 8)) * 2 * held, 150 - ((py - k * row - 8) / (row - 16)) * 300)
}
function drop() {
  if (!dragged.value) return
  dragged.value = undefined
  keep()
}
function keys(event: KeyboardEvent, k: number, i: number) {
  const point = tracks.value[k]?.points[i]
  const by = {
    ArrowLeft: [-0.1, 0],
    ArrowRight: [0.1, 0],
    ArrowUp: [0, 5],
    ArrowDown: [0, -5],
  }[event.key]
  if (!point || !by) return
  event.preventDefault()
  put(k, i, point[0] + (by[0] ?? 0), point[1] + (by[1] ?? 0))
  keep()
}
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} ${tracks.length * row + 26}`"
    role="group"
    aria-label="The parts along time"
    data-tracks
  >
    <g v-for="t in seconds" :key="t">
      <line :x1="x(t)" :x2="x(t)" y1="0" :y2="tracks.length * row" class="grid" />
      <text :x="x(t)" :y="tracks.length * row + 18" text-anchor="middle" class="time">
        {{ Number(t.toFixed(1)) }} s
      </text>
    </g>
    <line :x1="x(total)" :x2="x(total)" y1="0" :y2="tracks.length * row" class="turn" />
    <g v-for="(track, k) in tracks" :key="k">
      <text x="0" :y="k * row + row / 2 + 5">{{ spaced(track.name) }}</text>
      <line :x1="left" :x2="width" :y1="(k + 1) * row" :y2="(k + 1) * row" class="grid" />
      <path :d="way(k, track).back" class="back" />
      <path :d="way(k, track).out" class="out" />
      <circle
        v-for="(point, i) in track.points"
        :key="i"
        :cx="x(point[0])"
        :cy="y(k, point[1])"
        r="9"
        tabindex="0"
        role="slider"
        :aria-label="`${spaced(track.name)}, point ${i + 1}`"
        :aria-valuenow="point[1]"
        :aria-valuetext="`${point[1]} % at ${point[0]} s`"
        :data-point="`${k} ${i}`"
        @pointerdown="grab($event, k, i)"
        @pointermove="drag"
        @pointerup="drop"
        @keydown="keys($event, k, i)"
      />
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 720px;
  touch-action: none;
}

text {
  fill: var(--ink);
  font-size: 15px;
}

.time {
  fill: var(--soft);
  font-size: 13px;
}

.grid {
  stroke: var(--rule);
  stroke-width: 1;
}

.turn {
  stroke: var(--soft);
  stroke-width: 1.4;
  stroke-dasharray: 2 4;
}

.out,
.back {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}

.back {
  stroke: var(--soft);
  stroke-dasharray: 6 5;
}

circle {
  fill: var(--sheet);
  stroke: var(--petrol);
  stroke-width: 2.4;
  cursor: grab;
}

circle:focus-visible {
  fill: var(--now);
  outline: none;
  stroke: var(--ink);
}
</style>
