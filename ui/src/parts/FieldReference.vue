<script setup lang="ts">
/** Where something comes from, or when: chosen from a list, by moving a control, or typed as a number. */
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, useId } from 'vue'

import type { Field } from '../api/client'
import { useField } from '../composables/useField'
import { useMoved } from '../composables/useMoved'

const props = defineProps<{ field: Field }>()
const id = useId()
const { keep, fault } = useField(() => props.field)

const options = computed(() => {
  const list = (props.field.choices ?? []).map(({ value, label }) => ({ value, label }))
  const now = props.field.text
  return list.some((c) => c.value === now) || now === ''
    ? list
    : [{ value: now, label: now === '0' ? 'nothing yet' : `always ${now}` }, ...list]
})

/** A control that moves while we listen is the one that is meant; a switch is meant where it now stands. */
const { listening } = useMoved((control, at) => {
  const wanted = [control, `${control}.${at}`].find((v) => props.field.choices?.some((c) => c.value === v))
  if (wanted) void keep(wanted)
  return wanted !== undefined
})
</script>

<template>
  <div class="field inline" :data-field="field.name">
    <label :id="id">{{ field.label }}</label>
    <Select
      :aria-labelledby="id"
      :model-value="field.text"
      :options="options"
      option-label="label"
      option-value="value"
      filter
      filter-placeholder="find"
      placeholder="nothing"
      @update:model-value="keep"
    />
    <Button class="quiet" :aria-pressed="listening" @click="listening = !listening">{{
      listening ? 'Now move it…' : 'Choose by moving'
    }}</Button>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>
