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
import { drawing } from './shapes'

const props = defineProps<{
  piece: Piece
  pose: Pose
  side: boolean
  upright: number
  unit: number
  hatch: string
  bits: Picture['where']['bits']
}>()

const l = computed(() => props.piece.length)
const w = computed(() => props.piece.width)
const has = (bit: number) => (props.pose.flags & bit) !== 0

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

const drawn = computed(() => drawing(props.piece, props.side))
const shape = computed(() => drawn.value.outline)
const lampR = computed(() => Math.max(w.value / 2, props.unit * 5))

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
/** A screw across its shaft: two blades, which seem narrower the further they have turned. */
const blades = computed(() => {
  const half = w.value / 2
  const thick = l.value * (0.3 + 0.25 * Math.abs(Math.cos(props.pose.other * 2 * Math.PI)))
  return (
    `M0 0 C${half * 0.3} ${-thick} ${half} ${-thick} ${half} 0 ` +
    `C${half} ${thick} ${half * 0.3} ${thick} 0 0 ` +
    `C${-half * 0.3} ${-thick} ${-half} ${-thick} ${-half} 0 C${-half} ${thick} ${-half * 0.3} ${thick} 0 0z`
  )
})
/** The water that it throws, longer the harder it pushes. */
const wash = computed(() => {
  const way = props.pose.at > 0 ? 1 : -1
  const long = props.unit * (12 + Math.abs(props.pose.at) * 0.7)
  return [-1, 0, 1]
    .map((k) => `M${k * w.value * 0.28} ${way * l.value} l${k * long * 0.12} ${way * long}`)
    .join(' ')
})

/** Half the width of a bar: a track is round at its ends. */
const barW = (y: number) =>
  props.piece.part === 'track' && Math.abs(y) > l.value / 2 - w.value * 0.2 ? w.value * 0.3 : w.value / 2

/** Two spokes of a wheel seen from the side, opposite each other. */
function spoke(deg: number): string {
  const [c, s] = [Math.cos((deg * Math.PI) / 180) * l.value, Math.sin((deg * Math.PI) / 180) * l.value]
  return `M${-c * 0.5} ${-s * 0.5} L${-c * 0.18} ${-s * 0.18} M${c * 0.18} ${s * 0.18} L${c * 0.5} ${s * 0.5}`
}

/** How full what shows a level is, 0..1, and how full it is asked to be. */
const share = (at: number) =>
  Math.min(Math.max((at - props.piece.low) / Math.max(props.piece.high - props.piece.low, 1e-9), 0), 1)
const level = computed(() => share(props.pose.at))
const wanted = computed(() => share(props.pose.asked))

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
          <StageArrow
            :turn="pose.turn"
            :from="l / 2"
            :longest="unit * 34"
            :unit="unit"
            :upright="upright + wheel.turn"
          />
        </g>
      </g>
    </g>
    <g v-else-if="piece.moves === 'dials' || piece.moves === 'steps'">
      <rect class="solid" :x="-l / 2" :y="-w / 2" :width="l" :height="w" :rx="w * 0.12" />
      <rect class="level" :x="-l / 2" :y="w / 2 - w * level" :width="l" :height="w * level" :rx="w * 0.12" />
      <line class="ghost" :x1="-l / 2" :x2="l / 2" :y1="w / 2 - w * wanted" :y2="w / 2 - w * wanted" />
    </g>
    <g v-else-if="side && ['wheel', 'drum'].includes(piece.part)">
      <circle :r="l / 2" class="solid" />
      <circle :r="l * 0.18" class="thin" />
      <path
        :d="[0, 45, 90, 135].map((deg) => spoke(deg)).join(' ')"
        class="thin"
        :transform="`rotate(${pose.other * 360})`"
      />
    </g>
    <template v-else-if="piece.part === 'screw'">
      <g :transform="side ? 'rotate(90)' : undefined">
        <path :d="blades" class="solid" />
        <circle :r="l * 0.32" class="solid" />
        <path v-if="pose.at !== 0" :d="wash" class="wash" />
      </g>
    </template>
    <g v-else-if="piece.moves === 'shines'">
      <path
        v-if="pose.at !== 0 && piece.arc"
        class="seen"
        :d="sector(piece.arc[0] ?? 0, piece.arc[1] ?? 0, unit * 60)"
      />
      <circle v-if="piece.part === 'lamp' && pose.at !== 0" :r="lampR * 2.6" class="glow" />
      <circle v-if="piece.part === 'lamp'" :r="lampR" class="solid" />
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
          :y1="-lampR - unit * 3"
          :y2="-lampR - unit * 9"
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
          <path v-if="drawn.thin" :d="drawn.thin" class="thin" />
          <slot />
        </g>
        <template v-if="bars.length">
          <line v-for="(y, i) in bars" :key="i" :x1="-barW(y)" :x2="barW(y)" :y1="y" :y2="y" class="bar" />
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
        :upright="side ? 90 : upright"
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
.wash,
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

.thin {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
  opacity: 0.75;
  vector-effect: non-scaling-stroke;
}

.undriven .thin {
  stroke-dasharray: 3 4;
}

.wash {
  stroke-dasharray: 7 5;
}

.level {
  fill: var(--ink);
  fill-opacity: 0.3;
}

.glow {
  fill: var(--now);
  fill-opacity: 0.3;
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
