<script setup lang="ts">
/** A switch of more than three positions: a knob. A tap goes to the next, arrow keys go both ways. */
import { computed } from 'vue'

import type { Control } from '../api/client'

const props = defineProps<{ control: Control; at: string; hint: string }>()
const emit = defineEmits<{ move: [set: Record<string, string>] }>()

/** The arc over which the positions lie, degrees from straight up. */
const arc = 135

const positions = computed(() => props.control.positions ?? [])
const now = computed(() => Math.max(positions.value.indexOf(props.at), 0))
const angles = computed(() =>
  positions.value.map((_, i) => -arc + (2 * arc * i) / Math.max(positions.value.length - 1, 1)),
)
const word = computed(() => props.control.words?.[now.value] ?? props.at)

function go(to: number) {
  const position = positions.value[to]
  if (position !== undefined && position !== props.at) emit('move', { [props.control.id]: position })
}

function key(event: KeyboardEvent) {
  const to: Record<string, number> = {
    ArrowRight: now.value + 1,
    ArrowUp: now.value + 1,
    ArrowLeft: now.value - 1,
    ArrowDown: now.value - 1,
    Home: 0,
    End: positions.value.length - 1,
  }
  const wanted = to[event.key]
  if (wanted === undefined || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  go(wanted)
}
</script>

<template>
  <div class="knob">
    <p class="name">
      {{ control.label }} <kbd v-if="hint">{{ hint }}</kbd>
    </p>
    <button
      type="button"
      role="slider"
      aria-valuemin="0"
      :aria-valuemax="positions.length - 1"
      :aria-valuenow="now"
      :aria-valuetext="word"
      :aria-label="control.label"
      :data-lever="control.id"
      @click="go((now + 1) % positions.length)"
      @keydown="key"
    >
      <svg width="40" height="40" viewBox="-20 -20 40 40" aria-hidden="true">
        <path
          v-for="(angle, i) in angles"
          :key="i"
          d="M 0 -19 v 5"
          class="tick"
          :transform="`rotate(${angle})`"
        />
        <circle r="12.5" class="cap" />
        <path d="M 0 0 V -11" class="pointer" :transform="`rotate(${angles[now] ?? 0})`" />
      </svg>
      <span class="word">{{ word }}</span>
    </button>
  </div>
</template>

<style scoped>
button {
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 43px;
  padding: 0 4px 0 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}

.word {
  max-width: 84px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.cap {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
}

.tick {
  stroke: var(--ink);
  stroke-width: 1.6;
}

.pointer {
  stroke: var(--ink);
  stroke-width: 3;
}
</style>
