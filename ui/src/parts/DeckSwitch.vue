<script setup lang="ts">
/**
 * A switch with its positions side by side. One of two positions is thrown by a tap anywhere on it; a
 * position that springs back holds while it is pressed. Small, it shows only where it stands, and a tap
 * goes on.
 */
import { useEventListener } from '@vueuse/core'
import { computed, onScopeDispose } from 'vue'

import type { Control } from '../api/client'
import { useHold } from '../composables/useHold'

const props = defineProps<{ control: Control; at: string; hint: string; small?: boolean }>()
const emit = defineEmits<{ move: [set: Record<string, string>] }>()

const positions = computed(() => props.control.positions ?? [])
const springs = computed(() => props.control.spring !== '')
/** Of a button, and of what springs back and is small, only what it can be pressed to is shown. */
const shown = computed(() =>
  positions.value.filter(
    (p) => !springs.value || p !== props.control.spring || (positions.value.length > 2 && !props.small),
  ),
)
/** One tap throws it, wherever the tap is. */
const thrown = computed(() => !springs.value && (props.small || positions.value.length === 2))
const next = computed(
  () => positions.value[(positions.value.indexOf(props.at) + 1) % positions.value.length] ?? props.at,
)

function word(position: string): string {
  return props.control.words?.[props.control.positions?.indexOf(position) ?? 0] ?? position
}

function to(position: string) {
  if (position !== props.at) emit('move', { [props.control.id]: position })
}

/**
 * A finger may be on its way over the switches: what it means shows when it has stayed for this long, or has
 * gone.
 */
const meantAfter = 90
const straysBy = 10
/** How long a press without a finger lasts, as by a voice or a screen reader. */
const pressFor = 400
/** How long a press lasts at least, however quick the tap: some frames, so that the model sees it. */
const atLeast = 100

let waiting = 0
let from = { x: 0, y: 0 }
/** The position that is held; empty while nothing is. */
let pressed = ''
/** The key that holds it, where a key does. */
let key = ''
/** Since when it is held, ms, and whether it was let go of sooner than a press lasts. */
let since = 0
let tapped = false

const { take, holds, release } = useHold(spring)

function spring() {
  window.clearTimeout(waiting)
  waiting = 0
  if (tapped) {
    tapped = false
    waiting = window.setTimeout(spring, since + atLeast - performance.now())
    return
  }
  if (pressed) to(props.control.spring)
  pressed = key = ''
}

function hold(position: string) {
  window.clearTimeout(waiting)
  waiting = 0
  since = performance.now()
  pressed = position
  to(position)
}

function down(position: string, event: PointerEvent) {
  if (!springs.value) {
    // a finger throws it when it goes up
    if (event.pointerType === 'mouse' && event.button === 0) to(position)
    return
  }
  if (!take(event)) return
  from = { x: event.clientX, y: event.clientY }
  if (event.pointerType === 'mouse') hold(position)
  else waiting = window.setTimeout(() => hold(position), meantAfter)
}

function stray(event: PointerEvent) {
  if (!waiting || !holds(event)) return
  if (Math.hypot(event.clientX - from.x, event.clientY - from.y) > straysBy) release(event)
}

/** A quick tap is a press too. */
function up(position: string, event: PointerEvent) {
  if (waiting && holds(event)) {
    hold(position)
  }
  tapped = pressed !== '' && performance.now() - since < atLeast
  release(event)
}

function click(position: string, event: MouseEvent) {
  if (!springs.value) return to(position)
  if (event.detail > 0 || pressed) return // a pointer or a key has done it
  hold(position)
  waiting = window.setTimeout(spring, pressFor)
}

function keyDown(position: string, event: KeyboardEvent) {
  if (event.repeat || pressed) return
  key = event.key
  if (springs.value) hold(position)
  else to(position)
}

function left() {
  if (key) spring()
}

function keyUp(event: KeyboardEvent) {
  if (event.key !== key) return
  tapped = performance.now() - since < atLeast
  spring()
}

/** Once it is held, the page must not begin to scroll under the finger. */
function still(event: TouchEvent) {
  if (pressed && event.cancelable) event.preventDefault()
}

useEventListener('blur', spring)
onScopeDispose(() => window.clearTimeout(waiting))
</script>

<template>
  <div class="switch" role="group" :aria-label="control.label">
    <p class="name">
      {{ control.label }} <kbd v-if="hint">{{ hint }}</kbd>
    </p>
    <button
      v-if="thrown"
      type="button"
      class="positions thrown"
      :class="{ small }"
      :title="small ? `Then ${word(next)}` : undefined"
      @click="to(next)"
    >
      <span class="unseen">{{ control.label }}: </span>
      <span
        v-for="position in positions"
        v-show="!small || position === at"
        :key="position"
        :class="{ on: at === position }"
        :data-switch="`${control.id}.${position}`"
        >{{ `${word(position)} ` }}</span
      >
      <span class="unseen">, at {{ word(at) }}</span>
    </button>
    <div v-else class="positions" :class="{ small }">
      <button
        v-for="position in shown"
        :key="position"
        type="button"
        :aria-pressed="at === position"
        :data-switch="`${control.id}.${position}`"
        @pointerdown="down(position, $event)"
        @pointermove="stray"
        @pointerup="up(position, $event)"
        @pointercancel="release"
        @lostpointercapture="release"
        @touchmove="still"
        @click="click(position, $event)"
        @keydown.space.prevent="keyDown(position, $event)"
        @keydown.enter.prevent="keyDown(position, $event)"
        @keyup.space.prevent="keyUp"
        @keyup.enter="keyUp"
        @blur="left"
        @contextmenu.prevent
      >
        {{ word(position) }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.positions {
  display: inline-flex;
  border: 1.5px solid var(--ink);
  border-radius: 4px;
  overflow: hidden;
  background: var(--sheet);
}

.positions button,
.thrown [data-switch] {
  min-height: 40px;
  min-width: 40px;
  padding: 0 8px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 1rem;
  cursor: pointer;
  touch-action: pan-x;
  user-select: none;
}

.thrown {
  padding: 0;
  color: var(--ink);
  font: inherit;
  cursor: pointer;
  touch-action: pan-x;
}

.thrown [data-switch] {
  display: grid;
  place-items: center;
}

.positions button + button,
.thrown [data-switch] + [data-switch] {
  border-left: 1.5px solid var(--ink);
}

.positions button[aria-pressed='true'],
.thrown .on {
  background: var(--ink);
  color: var(--sheet);
}

.small button,
.thrown.small .on {
  display: block;
  max-width: 84px;
  padding: 0 4px;
  line-height: 40px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: var(--label);
}

.thrown.small .on {
  min-width: 60px;
  border: 0;
  background: none;
  color: var(--ink);
}

.small button {
  max-width: 46px;
}

.small button:only-child {
  max-width: 84px;
}

.positions button:focus-visible {
  outline-offset: -4px;
  outline-color: var(--now);
}
</style>
