<script setup lang="ts">
/** A choice of the document, kept at once. */
import Select from 'primevue/select'
import { computed, useId } from 'vue'

import type { Field } from '../api/client'
import { useField } from '../composables/useField'

const props = defineProps<{ field: Field; name?: string }>()
const id = useId()
const { keep, fault } = useField(() => props.field)
/** What it says where nothing is chosen. */
const nothing = computed(() => props.field.choices?.find((c) => c.value === '')?.label)
</script>

<template>
  <div class="field inline" :data-field="field.name">
    <label :id="id">{{ name ?? field.label }}</label>
    <Select
      :aria-labelledby="id"
      :model-value="field.text"
      :options="field.choices"
      option-label="label"
      option-value="value"
      :placeholder="nothing"
      @update:model-value="keep"
    />
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>
