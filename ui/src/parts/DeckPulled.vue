<script setup lang="ts">
/** A wheel, turned by pulling it to the side, or a trigger, pulled towards the hand. */
import { computed } from 'vue'

import type { Control } from '../api/client'
import { axisWords, goesBack, within } from '../composables/axis'
import { useHold } from '../composables/useHold'

const props = defineProps<{ control: Control; at: number; hint: string; active: boolean }>()
const emit = defineEmits<{ move: [set: Record<string, number>] }>()

const size = 118
/**
 * How far a wheel is drawn turned at 100 percent, degrees, and a trigger pulled, pixels; and how far a pull
 * for it is, pixels.
 */
const turn = 120
const travel = 34
const pullFor = { wheel: 88, trigger: 44 }

const trigger = computed(() => props.control.form === 'trigger')

const { held, take, holds, release } = useHold(letGo)
let from = { at: 0, pulled: 0 }

function set(to: number) {
  emit('move', { [props.control.id]: within(to) })
}

function pulled(event: PointerEvent) {
  return trigger.value ? event.clientY / pullFor.trigger : event.clientX / pullFor.wheel
}

function grab(event: PointerEvent) {
  if (take(event)) from = { at: props.at, pulled: pulled(event) }
}

function pull(event: PointerEvent) {
  if (holds(event)) set(from.at + (pulled(event) - from.pulled) * 100)
}

function letGo() {
  if (held.value === undefined && goesBack(props.control, props.at)) set(props.control.rest)
}
</script>

<template>
  <div class="pulled">
    <p class="label">
      {{ control.label }} <kbd v-if="hint">{{ hint }}</kbd>
    </p>
    <input
      class="unseen"
      type="range"
      min="-100"
      max="100"
      step="0.5"
      :value="at"
      :data-lever="control.id"
      :aria-label="control.label"
      :aria-orientation="trigger ? 'vertical' : 'horizontal'"
      :aria-valuetext="axisWords(control, at)"
      @input="set(Number(($event.target as HTMLInputElement).value))"
      @keydown.home.prevent="letGo"
      @keydown.escape="letGo"
      @blur="letGo"
    />
    <svg
      :width="trigger ? size / 2 : size"
      :height="size"
      :viewBox="trigger ? '-29.5 -59 59 118' : '-59 -59 118 118'"
      aria-hidden="true"
      :data-pulled="control.id"
      @pointerdown="grab"
      @pointermove="pull"
      @pointerup="release"
      @pointercancel="release"
      @lostpointercapture="release"
    >
      <g v-if="trigger">
        <rect x="-28" y="-57" width="56" height="114" rx="22" class="rim" />
        <path d="M -28 0 h 8 M 28 0 h -8" class="notch" />
        <path
          :transform="`translate(0 ${(at / 100) * travel})`"
          d="M -21 -4 Q 0 14 21 -4 V 6 Q 0 26 -21 6 Z"
          class="mark"
          :class="{ active: active || held !== undefined }"
        />
      </g>
      <template v-else>
        <path d="M 0 -58 v 8" class="notch" />
        <g :transform="`rotate(${(at / 100) * turn})`">
          <circle r="47" class="rim" />
          <circle r="34" class="well" />
          <path d="M 0 -34 V 0 M -30 16 L 0 0 L 30 16" class="spokes" />
          <circle r="11" class="hub" />
          <rect
            x="-6"
            y="-47"
            width="12"
            height="13"
            class="mark"
            :class="{ active: active || held !== undefined }"
          />
        </g>
      </template>
    </svg>
  </div>
</template>

<style scoped>
.rim,
.well,
.hub,
.mark {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
}

.well {
  fill: var(--deck);
}

.spokes,
.notch {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
}

.mark.active {
  fill: var(--now);
}
</style>
