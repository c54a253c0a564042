<script setup lang="ts">
/** One stick: a square pad with one or two axes. A sprung axis goes back on letting go. */
import { computed } from 'vue'

import type { Control } from '../api/client'
import { axisWords, within } from '../composables/axis'
import { useHold } from '../composables/useHold'

const props = defineProps<{
  name: string
  across?: Control
  along?: Control
  hands: Record<string, number | string>
  moving?: string
  hint: string
}>()
const emit = defineEmits<{ move: [set: Record<string, number>] }>()

const size = 118
const { held, take, holds, release } = useHold(letGo)
const x = computed(() => Number(props.across ? (props.hands[props.across.id] ?? 0) : 0))
const y = computed(() => Number(props.along ? (props.hands[props.along.id] ?? 0) : 0))
const active = computed(
  () => held.value !== undefined || [props.across?.id, props.along?.id].includes(props.moving),
)

function place(v: number): number {
  return size / 2 + (v / 100) * (size / 2 - 14)
}

/** How far an arrow key moves an axis, percent; finer with Shift. */
const stride = 5
const fine = 1

/** The axes as a reader of the page meets them, each a slider of its own. */
const axes = computed(() =>
  [props.along, props.across].flatMap((control) => {
    if (!control) return []
    const at = Number(props.hands[control.id] ?? 0)
    return [{ control, at, text: axisWords(control, at) }]
  }),
)

function set(control: Control | undefined, to: number) {
  if (control) emit('move', { [control.id]: within(to) })
}

/** Arrow keys move both axes from either slider, as the stick lies; Home lets go. */
function key(event: KeyboardEvent) {
  const by = event.shiftKey ? fine : stride
  const keys: Record<string, () => void> = {
    ArrowUp: () => set(props.along, y.value + by),
    ArrowDown: () => set(props.along, y.value - by),
    ArrowRight: () => set(props.across, x.value + by),
    ArrowLeft: () => set(props.across, x.value - by),
    Home: letGo,
    Escape: letGo,
  }
  const act = keys[event.key]
  if (!act || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  act()
}

/** The focus leaves the stick: what is sprung goes back. */
function left(event: FocusEvent) {
  const group = event.currentTarget as Element
  const stays = event.relatedTarget instanceof Node && group.contains(event.relatedTarget)
  const away = axes.value.some(({ control, at }) => at !== control.rest)
  if (!stays && away) letGo()
}

/** Where the pad lies, looked at once: asking at each movement has the page laid out each time. */
let box = new DOMRect()

function grab(event: PointerEvent) {
  if (!take(event)) return
  box = (event.currentTarget as Element).getBoundingClientRect()
  pull(event)
}

function pull(event: PointerEvent) {
  if (!holds(event)) return
  const reach = box.width / 2 - 14
  const to = (from: number) => within((from / reach) * 100)
  const set: Record<string, number> = {}
  if (props.across) set[props.across.id] = to(event.clientX - box.left - box.width / 2)
  if (props.along) set[props.along.id] = to(box.top + box.height / 2 - event.clientY)
  emit('move', set)
}

function letGo() {
  const set: Record<string, number> = {}
  for (const c of [props.across, props.along]) if (c && c.spring !== 'none') set[c.id] = c.rest
  if (Object.keys(set).length > 0) emit('move', set)
}
</script>

<template>
  <div class="stick" role="group" :aria-label="name" @keydown="key" @focusout="left">
    <p class="label">
      {{ name }} <kbd v-if="hint">{{ hint }}</kbd>
    </p>
    <input
      v-for="axis in axes"
      :key="axis.control.id"
      class="unseen"
      type="range"
      min="-100"
      max="100"
      step="0.5"
      :value="axis.at"
      :data-lever="axis.control.id"
      :aria-label="axis.control.label"
      :aria-valuetext="axis.text"
      :aria-orientation="axis.control === along ? 'vertical' : 'horizontal'"
      aria-description="Arrow keys move it, Home lets go."
      @input="set(axis.control, Number(($event.target as HTMLInputElement).value))"
    />
    <svg
      :width="size"
      :height="size"
      :viewBox="`0 0 ${size} ${size}`"
      aria-hidden="true"
      :data-stick="name"
      @pointerdown="grab"
      @pointermove="pull"
      @pointerup="release"
      @pointercancel="release"
      @lostpointercapture="release"
    >
      <rect x="0.75" y="0.75" :width="size - 1.5" :height="size - 1.5" class="frame" />
      <line v-if="along" :x1="size / 2" :x2="size / 2" y1="1" :y2="size - 1" class="cross" />
      <line v-if="across" x1="1" :x2="size - 1" :y1="size / 2" :y2="size / 2" class="cross" />
      <line :x1="size / 2" :y1="size / 2" :x2="place(x)" :y2="place(-y)" class="shaft" />
      <circle :cx="place(x)" :cy="place(-y)" r="13" class="knob" :class="{ active }" />
    </svg>
  </div>
</template>

<style scoped>
.frame {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.cross {
  stroke: var(--rule);
}

.shaft {
  stroke: var(--ink);
  stroke-width: 3;
}

.knob {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
}

.knob.active {
  fill: var(--now);
}
</style>
