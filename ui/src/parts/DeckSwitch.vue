<script setup lang="ts">
/** A switch with its positions side by side. A position that springs back holds while it is pressed. */
import { computed, onScopeDispose } from 'vue'

import type { Control } from '../api/client'

const props = defineProps<{ control: Control; at: string; hint: string }>()
const emit = defineEmits<{ move: [set: Record<string, string>] }>()

const button = computed(() => props.control.spring !== '' && props.control.positions?.length === 2)
/** A button shows only the position that it is pressed to. */
const shown = computed(() =>
  (props.control.positions ?? []).filter((p) => !button.value || p !== props.control.spring),
)
function word(position: string): string {
  return props.control.words?.[props.control.positions?.indexOf(position) ?? 0] ?? position
}

let held = false

function to(position: string) {
  if (position !== props.at) emit('move', { [props.control.id]: position })
}

function press(position: string, event: PointerEvent | KeyboardEvent) {
  if (event instanceof KeyboardEvent && event.repeat) return
  held = props.control.spring !== ''
  to(position)
}

function release() {
  if (held) to(props.control.spring)
  held = false
}

window.addEventListener('pointerup', release)
window.addEventListener('blur', release)
onScopeDispose(() => {
  window.removeEventListener('pointerup', release)
  window.removeEventListener('blur', release)
})
</script>

<template>
  <div class="switch" role="group" :aria-label="control.label">
    <p class="name">
      {{ control.label }} <kbd v-if="hint">{{ hint }}</kbd>
    </p>
    <div class="positions">
      <button
        v-for="position in shown"
        :key="position"
        type="button"
        :aria-pressed="at === position"
        :data-switch="`${control.id}.${position}`"
        @pointerdown="press(position, $event)"
        @keydown.space.prevent="press(position, $event)"
        @keydown.enter.prevent="press(position, $event)"
        @keyup.space="release"
        @keyup.enter="release"
      >
        {{ word(position) }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.name {
  font-size: 16px;
  margin-bottom: 3px;
}

.positions {
  display: inline-flex;
  border: 1.5px solid var(--ink);
  border-radius: 4px;
  overflow: hidden;
  background: var(--sheet);
}

.positions button {
  min-height: 40px;
  min-width: 40px;
  padding: 0 8px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 16px;
  cursor: pointer;
  touch-action: none;
}

.positions button + button {
  border-left: 1.5px solid var(--ink);
}

.positions button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--sheet);
}

.positions button:focus-visible {
  outline-offset: -4px;
  outline-color: var(--now);
}

kbd {
  font: inherit;
  font-weight: 700;
  font-size: var(--label);
}
</style>
