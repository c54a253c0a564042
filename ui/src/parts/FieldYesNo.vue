<script setup lang="ts">
/** A yes or no of the document, kept at once. */
import ToggleSwitch from 'primevue/toggleswitch'
import { useId } from 'vue'

import type { Field } from '../api/client'
import { useField } from '../composables/useField'

const props = defineProps<{ field: Field }>()
const id = useId()
const { keep, fault } = useField(() => props.field)
</script>

<template>
  <div class="field inline" :data-field="field.name">
    <ToggleSwitch :input-id="id" :model-value="field.value === 1" @update:model-value="keep" />
    <label :for="id">{{ field.label }}</label>
    <strong>{{ field.value === 1 ? 'yes' : 'no' }}</strong>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.field {
  min-height: 40px;
}
</style>
