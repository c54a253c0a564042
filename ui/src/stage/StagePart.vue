<script setup lang="ts">
/**
 * One part of the picture in flat ink: solid where it is, dashed where it is asked to be, hatched where a
 * lost signal brings it. It is drawn at its own place, x to the right and y down; what is on it is drawn
 * inside.
 */
import { computed } from 'vue'

import type { Picture, Piece } from '../api/client'
import StageArrow from './StageArrow.vue'
import { sector, type Pose } from './numbers'

const props = defineProps<{
  piece: Piece
  pose: Pose
  side: boolean
  boat: boolean
  unit: number
  hatch: string
  bits: Picture['where']['bits']
}>()

const l = computed(() => props.piece.length)
const w = computed(() => props.piece.width)
const has = (bit: number) => (props.pose.flags & bit) !== 0

/** Parts that begin at their hinge; the others are drawn about their middle. */
const hinged = ['rudder', 'boom', 'ramp', 'door', 'leg', 'monitor', 'bucket', 'plane', 'mast']

/** Which way a part lies at 0: up the page seen from above, to the right seen from the side. */
function turned(at: number): string {
  const p = props.piece
  if (p.part === 'hook') return `rotate(${-props.pose.other})`
  if (p.moves === 'slides') {
    if (p.part === 'trolley') return `translate(${at} 0)`
    return `translate(0 ${p.part === 'mast' ? -at : at})`
  }
  if (p.moves !== 'swings') return ''
  if (props.side) return `rotate(${-at})`
  return p.part === 'rudder' ? `rotate(${180 - at})` : `rotate(${at})`
}

/** The outline of a boat seen from above: its bow runs to a point. */
function bow(length: number, width: number): string {
  const at = (x: number, y: number) => `${width * x} ${length * y}`
  const side = (s: 1 | -1) => [at(0.38 * s, -0.42), at(0.5 * s, -0.3), at(0.5 * s, -0.2)]
  const port = side(-1)
  const stern = [at(0.5, 0.5), at(-0.5, 0.5), port[2]].join(' ')
  const back = [port[1], port[0], at(0, -0.5)].join(' ')
  return `M${at(0, -0.5)} C${side(1).join(' ')} L${stern} C${back}z`
}

/** The shape of a part along its own length: up the page from above, to the right from the side. */
const shape = computed(() => {
  const [length, width] = [l.value, w.value]
  if (props.side) {
    if (hinged.includes(props.piece.part)) {
      if (props.piece.part === 'leg') return `M${-width / 2} 0 h${width} v${length} h${-width}z`
      if (props.piece.part === 'boom')
        return `M0 ${-width / 2} L${length} ${-width / 5} v${(width * 2) / 5} L0 ${width / 2}z`
      return `M0 ${-width / 2} h${length} v${width} h${-length}z`
    }
    return `M${-length / 2} ${-width / 2} h${length} v${width} h${-length}z`
  }
  if (props.piece.part === 'hull' && props.boat) return bow(length, width)
  if (hinged.includes(props.piece.part)) return `M${-width / 2} 0 h${width} v${-length} h${-width}z`
  return `M${-width / 2} ${-length / 2} h${width} v${length} h${-width}z`
})

/** The bars of a track, or the blades of a drum, moved on by its turning. */
const bars = computed(() => {
  if (!['track', 'drum', 'wheel'].includes(props.piece.part)) return []
  const n = props.piece.part === 'track' ? 12 : 4
  const step = l.value / n
  return Array.from({ length: n }, (_, i) => -l.value / 2 + ((i + (1 - props.pose.other)) % n) * step)
})

const wheels = computed(() =>
  props.piece.part === 'axle'
    ? [
        { x: -w.value / 2, turn: props.pose.at },
        { x: w.value / 2, turn: props.pose.other },
      ]
    : [],
)
const ghost = computed(
  () =>
    (props.piece.moves === 'swings' || props.piece.moves === 'slides') &&
    props.piece.part !== 'axle' &&
    Math.abs(props.pose.asked - props.pose.at) > 0.5,
)
const cross = computed(() => {
  const [arm, whole] = [props.unit * 7, props.unit * 14]
  return `M${-arm} ${-arm} l${whole} ${whole} m0 ${-whole} l${-whole} ${whole}`
})
const lost = computed(() => props.piece.lost !== undefined && props.piece.part !== 'axle')
</script>

<template>
  <g class="part" :class="{ undriven: !piece.driven, lit: piece.moves === 'shines' && pose.at !== 0 }">
    <title>{{ piece.label }}</title>
    <g v-if="piece.part === 'axle'">
      <line :x1="-w / 2" :x2="w / 2" y1="0" y2="0" class="ink" :class="{ powered: piece.motor }" />
      <g v-for="wheel in wheels" :key="wheel.x" :transform="`translate(${wheel.x} 0)`">
        <g v-if="piece.device && (piece.low !== 0 || piece.high !== 0)" class="stops">
          <line
            v-for="stop in [piece.low, piece.high]"
            :key="stop"
            x1="0"
            y1="0"
            x2="0"
            :y2="-l * 0.85"
            :transform="`rotate(${stop})`"
          />
        </g>
        <rect
          v-if="piece.device && Math.abs(pose.asked - pose.at) > 1"
          class="ghost"
          :x="-l * 0.18"
          :y="-l / 2"
          :width="l * 0.36"
          :height="l"
          :transform="`rotate(${pose.asked})`"
        />
        <rect
          class="solid"
          :x="-l * 0.18"
          :y="-l / 2"
          :width="l * 0.36"
          :height="l"
          rx="4"
          :transform="`rotate(${wheel.turn})`"
        />
        <g v-if="has(bits.brakes)" class="braked" :transform="`rotate(${wheel.turn})`">
          <line
            v-for="k in [-1, 1]"
            :key="k"
            :x1="-l * 0.32"
            :x2="l * 0.32"
            :y1="k * l * 0.18"
            :y2="k * l * 0.18"
          />
        </g>
        <g v-if="pose.turn !== 0" :transform="`rotate(${wheel.turn})`">
          <StageArrow :turn="pose.turn" :from="l / 2" :longest="unit * 34" :unit="unit" />
        </g>
      </g>
    </g>
    <g v-else-if="side && ['wheel', 'drum'].includes(piece.part)">
      <circle :r="l / 2" class="solid" />
      <line :x1="-l / 2" :x2="l / 2" y1="0" y2="0" class="ink" :transform="`rotate(${pose.other * 360})`" />
    </g>
    <template v-else-if="piece.part === 'screw'">
      <ellipse :rx="w / 2" :ry="l / 2" class="solid" />
      <line :x1="-w / 2" :x2="w / 2" y1="0" y2="0" class="ink" />
      <g v-if="pose.at !== 0" class="wash">
        <line
          v-for="k in 3"
          :key="k"
          :x1="(k - 2) * w * 0.3"
          :x2="(k - 2) * w * 0.36"
          :y1="pose.at > 0 ? l : -l"
          :y2="(pose.at > 0 ? l : -l) + pose.at * unit * 0.6"
        />
      </g>
    </template>
    <g v-else-if="piece.moves === 'shines'">
      <path
        v-if="pose.at !== 0 && piece.arc"
        class="seen"
        :d="sector(piece.arc[0] ?? 0, piece.arc[1] ?? 0, unit * 60)"
      />
      <circle v-if="piece.part === 'lamp'" :r="Math.max(w / 2, unit * 6)" class="solid" />
      <path
        v-else-if="piece.part === 'horn'"
        :d="`M${-l / 2} ${-w / 5} L${l / 2} ${-w / 2} V${w / 2} L${-l / 2} ${w / 5}z`"
        class="solid"
      />
      <rect v-else class="solid" :x="-l / 2" :y="0" :width="l" :height="w" />
      <g v-if="pose.at !== 0 && piece.part === 'lamp' && !piece.arc" class="rays">
        <line
          v-for="k in 8"
          :key="k"
          :y1="-Math.max(w / 2, unit * 6) - unit * 3"
          :y2="-Math.max(w / 2, unit * 6) - unit * 8"
          x1="0"
          x2="0"
          :transform="`rotate(${k * 45})`"
        />
      </g>
      <text v-if="pose.at !== 0 && piece.word" class="sound" :y="-unit * 16" :font-size="unit * 17">
        {{ piece.word }}
      </text>
    </g>
    <template v-else>
      <path
        v-if="piece.part === 'rudder'"
        class="scale"
        transform="rotate(180)"
        :d="sector(-30, 30, l * 1.35)"
      />
      <path
        v-if="lost"
        :d="shape"
        class="lost"
        :fill="`url(#${hatch})`"
        :transform="turned(piece.lost ?? 0)"
      />
      <path v-if="ghost" :d="shape" class="ghost" :transform="turned(pose.asked)" />
      <line
        v-if="piece.part === 'hook'"
        x1="0"
        x2="0"
        y1="0"
        :y2="pose.at"
        class="ink"
        :transform="turned(0)"
      />
      <g :transform="turned(pose.at)">
        <g :transform="piece.part === 'hook' ? `translate(0 ${pose.at})` : undefined">
          <path :d="shape" class="solid" :class="{ hull: piece.part === 'hull' }" />
          <slot />
        </g>
        <template v-if="bars.length">
          <line v-for="(y, i) in bars" :key="i" :x1="-w / 2" :x2="w / 2" :y1="y" :y2="y" class="bar" />
        </template>
      </g>
    </template>
    <g
      v-if="piece.moves === 'turns' && piece.part !== 'pump' && pose.at !== 0"
      :transform="side ? 'rotate(90)' : undefined"
    >
      <StageArrow
        :turn="pose.at"
        :from="piece.part === 'track' ? l / 2 : 0"
        :longest="Math.max(l * 0.55, unit * 34)"
        :unit="unit"
      />
    </g>
    <g v-if="has(bits.pushes) || has(bits.clashes)" class="push">
      <circle r="1" :transform="`scale(${unit * 11})`" />
      <text :font-size="unit * 17" :y="unit * 6" text-anchor="middle">!</text>
    </g>
    <path
      v-if="has(bits.at_stop)"
      class="atStop"
      :transform="turned(pose.at)"
      :d="`M${-unit * 9} ${-unit * 5} v${unit * 10} M${unit * 9} ${-unit * 5} v${unit * 10}`"
    />
    <path v-if="has(bits.lost) && piece.device" class="cross" :d="cross" />
    <circle v-if="has(bits.moves_free)" class="freeRing" :r="unit * 20" />
  </g>
</template>

<style scoped>
.solid {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.hull {
  fill: var(--ground);
}

.undriven .solid {
  fill: none;
  stroke-dasharray: 5 4;
}

.lit .solid {
  fill: var(--now);
}

.ink,
.bar,
.wash line,
.rays line,
.stops line,
.cross,
.freeRing {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}

.bar {
  stroke-width: 1;
  opacity: 0.55;
}

.braked line {
  stroke: var(--ink);
  stroke-width: 4;
  vector-effect: non-scaling-stroke;
}

.seen {
  fill: var(--now);
  fill-opacity: 0.35;
  stroke: var(--ink);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.scale {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.powered {
  stroke-width: 5;
}

.stops line {
  stroke-width: 1;
  stroke: var(--soft);
}

.ghost {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-dasharray: 4 4;
  vector-effect: non-scaling-stroke;
}

.lost {
  stroke: var(--soft);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.atStop {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}

.cross {
  stroke-width: 2.4;
}

.push circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2.5;
  vector-effect: non-scaling-stroke;
}

.push text {
  fill: var(--ink);
  font-weight: 700;
}

.freeRing {
  stroke: var(--danger);
  stroke-width: 2;
  stroke-dasharray: 2 3;
}

.sound {
  fill: var(--ink);
  font-style: italic;
  text-anchor: middle;
}
</style>
