<script setup lang="ts">
/**
 * A number of the document. Arrow keys and the slider try it live; Enter, leaving the field or letting go
 * keeps it as one revision; Escape puts it back.
 */
import InputText from 'primevue/inputtext'
import Slider from 'primevue/slider'
import { computed, shallowRef, useId, watch } from 'vue'

import type { Field } from '../api/client'
import { useField } from '../composables/useField'
import { useLeaveGuard } from '../composables/useLeaveGuard'
import { setting, typed } from '../figures'

const props = defineProps<{ field: Field; slider?: boolean; name?: string }>()
const id = useId()
const { attempt, keep, cancel, refuse, fault } = useField(() => props.field)
/** A number that may be left out is empty where the document says nothing. */
const shown = (value: number) => (props.field.optional && !props.field.present ? '' : setting(value))
const text = shallowRef(shown(props.field.value))
const dirty = shallowRef(false)

watch(
  () => props.field.value,
  (value) => {
    if (!dirty.value) text.value = shown(value)
  },
)

const number = computed(() => typed(text.value, props.field.unit) ?? props.field.value)

/** What the document said before it was touched: while a value is tried, the field shows that one. */
let before = { value: 0, said: false }

function edit(value: string | undefined) {
  if (!dirty.value)
    before = {
      value: props.field.value,
      said: !props.field.optional || props.field.present,
    }
  text.value = value ?? ''
  dirty.value = true
}

function slide(value: number) {
  edit(setting(value))
  attempt(value)
}

function step(by: number) {
  const next = Math.min(Math.max(number.value + by * props.field.step, props.field.min), props.field.max)
  slide(Math.round(next * 1e6) / 1e6)
}

/** What was typed is what the document says: there is nothing to keep. */
function same(): boolean {
  return text.value.trim() === ''
    ? !before.said
    : before.said && typed(text.value, props.field.unit) === before.value
}

useLeaveGuard(() => {
  if (dirty.value) void done()
  return dirty.value
})

async function done() {
  if (!dirty.value) return
  if (same()) return back()
  if (props.field.optional && text.value.trim() === '') {
    if (await keep('')) dirty.value = false
    return
  }
  const value = typed(text.value, props.field.unit)
  if (value === undefined) {
    refuse(`“${text.value}” is not a number; type one such as ${setting(props.field.value)}`)
    return
  }
  if (await keep(value)) {
    dirty.value = false
    text.value = setting(value)
  }
}

function back() {
  dirty.value = false
  text.value = shown(props.field.value)
  cancel()
}

defineExpose({ slide, done })
</script>

<template>
  <div class="field inline" :data-field="field.name">
    <label :for="id">{{ name ?? field.label }}</label>
    <InputText
      :id="id"
      :model-value="text"
      class="fig"
      inputmode="decimal"
      autocomplete="off"
      :data-clean="dirty ? undefined : ''"
      :invalid="fault !== ''"
      :aria-describedby="fault ? `${id}-fault` : undefined"
      @update:model-value="edit"
      @keydown.enter.prevent="done"
      @keydown.escape.stop.prevent="back"
      @keydown.up.prevent="step(1)"
      @keydown.down.prevent="step(-1)"
      @blur="done"
    />
    <span class="label">{{ field.unit }}</span>
    <Slider
      v-if="slider"
      class="slider"
      :model-value="number"
      :min="field.min"
      :max="field.max"
      :step="field.step"
      :aria-label="field.label"
      @update:model-value="slide($event as number)"
      @slideend="done"
    />
    <p v-if="fault" :id="`${id}-fault`" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.field :deep(.p-inputtext) {
  width: 88px;
  text-align: right;
  font-size: 1.125rem;
  padding: 4px 8px;
}

.slider {
  width: 150px;
  margin: 0 12px;
}

.fault {
  flex-basis: 100%;
  max-width: 46ch;
}
</style>
