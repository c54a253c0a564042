<script setup lang="ts">
/**
 * The travel rule: a ruler in percent with microseconds beneath, stops as brackets, the centre as a notch, a
 * hatched band where nothing moves, a pointer for now, an open ring where it wakes, a cross for signal loss.
 */
import { useElementSize } from '@vueuse/core'
import { computed, useId, useTemplateRef } from 'vue'

import type { Rule } from '../api/client'
import { figure, setting } from '../figures'

type Stop = 'low' | 'centre' | 'high'

const props = defineProps<{
  rule: Rule
  p: number
  name: string
  tall?: boolean
  /** Between which places something may stand. */
  bar?: { from: number; to: number }
}>()
const emit = defineEmits<{ drag: [stop: Stop, value: number]; drop: [stop: Stop] }>()

const hatch = useId()
const { width: measured } = useElementSize(useTemplateRef('box'))
const width = computed(() => measured.value || (props.tall ? 560 : 190))
const pad = 10
const base = computed(() => (props.tall ? 34 : 24))
const height = computed(() => (props.tall ? 76 : 34))

function x(percent: number): number {
  const { from, to } = props.rule
  const within = Math.min(Math.max(percent, from), to)
  return pad + ((within - from) / (to - from)) * (width.value - 2 * pad)
}

/** All ticks in one: a page has dozens of rules. */
const ticks = computed(() => {
  let d = ''
  for (let at = props.rule.from; at <= props.rule.to; at += 10)
    d += `M${x(at)} ${base.value}v${at % 50 === 0 ? -9 : -5}`
  return d
})

const dead = computed(() => [
  { from: props.rule.from, to: props.rule.low },
  { from: props.rule.high, to: props.rule.to },
])

/** In the register the pulse beside it says where it stands: words for it would be made 50 times a second. */
const said = computed(
  () =>
    (props.tall ? `${props.name} stands at ${figure(props.p, '%')} percent` : `Travel of ${props.name}`) +
    `, ends ${setting(props.rule.low)} and ${setting(props.rule.high)}` +
    `, centre ${setting(props.rule.centre)}` +
    (props.bar
      ? `; after a lost signal at ${setting(props.bar.from)}` +
        (props.bar.from === props.bar.to ? '' : ` to ${setting(props.bar.to)}`)
      : ''),
)

let held: Stop | undefined

function grab(stop: Stop, event: PointerEvent) {
  held = stop
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}

function slide(event: PointerEvent) {
  if (!held) return
  const box = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect()
  if (!box) return
  const share = (event.clientX - box.left - pad) / (box.width - 2 * pad)
  const percent = props.rule.from + share * (props.rule.to - props.rule.from)
  emit('drag', held, Math.round(Math.min(Math.max(percent, -150), 150)))
}

function release() {
  if (held) emit('drop', held)
  held = undefined
}
</script>

<template>
  <div ref="box" class="rule" :class="{ tall }">
    <svg :viewBox="`0 0 ${width} ${height}`" :height="height" width="100%" role="img" :aria-label="said">
      <g v-memo="[rule, width, tall]">
        <pattern :id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="6" class="hatching" />
        </pattern>
        <rect
          v-for="band in dead"
          :key="band.from"
          :x="x(band.from)"
          :y="base - 8"
          :width="Math.max(x(band.to) - x(band.from), 0)"
          height="8"
          :fill="`url(#${hatch})`"
        />
        <line :x1="x(rule.from)" :x2="x(rule.to)" :y1="base" :y2="base" class="ink" />
        <path :d="ticks" class="ink thin" />
        <path :d="`M${x(rule.low) + 6} ${base - 12} h-6 v18 h6`" class="stop" />
        <path :d="`M${x(rule.high) - 6} ${base - 12} h6 v18 h-6`" class="stop" />
        <path :d="`M${x(rule.centre)} ${base + 1} l-5 7 h10z`" class="solid" />
        <circle :cx="x(rule.wakes)" :cy="base" r="3.5" class="wakes" />
        <path
          v-if="rule.loss !== undefined"
          :d="`M${x(rule.loss) - 4} ${base - 17} l8 8 m0 -8 l-8 8`"
          class="loss"
        />
      </g>
      <line v-if="bar" :x1="x(bar.from) - 2" :x2="x(bar.to) + 2" :y1="base + 9" :y2="base + 9" class="bar" />
      <path
        :d="`M0 ${base - 3} l-7 -13 h14z`"
        class="now"
        :style="{ transform: `translateX(${x(p).toFixed(1)}px)` }"
      />
      <template v-if="tall">
        <g v-for="mark in rule.marks" :key="mark.at">
          <text :x="x(mark.at)" :y="base + 22" text-anchor="middle">
            {{ mark.at > 0 ? '+' : '' }}{{ setting(mark.at) }}
          </text>
          <text :x="x(mark.at)" :y="base + 38" text-anchor="middle" class="us">{{ mark.us }}</text>
        </g>
        <rect
          v-for="stop in ['centre', 'low', 'high'] as const"
          :key="stop"
          class="grip"
          :x="x(rule[stop]) - 13"
          :y="base - 20"
          width="26"
          height="42"
          @pointerdown="grab(stop, $event)"
          @pointermove="slide"
          @pointerup="release"
          @pointercancel="release"
        />
      </template>
    </svg>
  </div>
</template>

<style scoped>
.rule {
  width: 100%;
}

svg {
  display: block;
  overflow: visible;
}

.ink {
  stroke: var(--ink);
  stroke-width: 1.3;
}

.thin {
  stroke-width: 1;
}

.hatching {
  stroke: #b7ae99;
  stroke-width: 1.6;
}

.stop {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.8;
}

.solid {
  fill: var(--ink);
}

.wakes {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.loss {
  stroke: var(--ink);
  stroke-width: 2.2;
}

.bar {
  stroke: var(--petrol);
  stroke-width: 3.5;
}

.now {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-linejoin: round;
}

text {
  font-family: var(--mono);
  font-size: 0.875rem;
  fill: var(--ink);
}

.us {
  fill: var(--soft);
}

.grip {
  fill: transparent;
  cursor: ew-resize;
  touch-action: none;
}
</style>
