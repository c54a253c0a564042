<script setup lang="ts">
/** A control of the deck other than a stick, by its kind. */
import type { Control } from '../api/client'
import DeckKnob from './DeckKnob.vue'
import DeckLever from './DeckLever.vue'
import DeckSwitch from './DeckSwitch.vue'
import DeckPulled from './DeckPulled.vue'

defineProps<{
  control: Control
  at: number | string
  hint: string
  active: boolean
  small: boolean
}>()
defineEmits<{ move: [set: Record<string, number | string>] }>()

/** A switch with more positions than this is a knob, where it stays. */
const sideBySide = 3
</script>

<template>
  <DeckPulled
    v-if="control.form"
    :control="control"
    :at="Number(at)"
    :hint="hint"
    :active="active"
    @move="$emit('move', $event)"
  />
  <DeckLever
    v-else-if="control.kind === 'axis'"
    :control="control"
    :at="Number(at)"
    :hint="hint"
    @move="$emit('move', $event)"
  />
  <DeckKnob
    v-else-if="(control.positions?.length ?? 0) > sideBySide && control.spring === ''"
    :control="control"
    :at="String(at)"
    :hint="hint"
    @move="$emit('move', $event)"
  />
  <DeckSwitch
    v-else
    :control="control"
    :at="String(at)"
    :hint="hint"
    :small="small"
    @move="$emit('move', $event)"
  />
</template>
