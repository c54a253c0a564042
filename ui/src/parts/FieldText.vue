<script setup lang="ts">
/**
 * Words of the document, or its own writing for the few fields that have no other form. Kept on Enter and on
 * leaving.
 */
import InputText from 'primevue/inputtext'
import { shallowRef, useId, watch } from 'vue'

import type { Field } from '../api/client'
import { useField } from '../composables/useField'
import { useLeaveGuard } from '../composables/useLeaveGuard'

const props = defineProps<{ field: Field }>()
const id = useId()
const { keep, cancel, refuse, fault } = useField(() => props.field)
const text = shallowRef(props.field.text)
const dirty = shallowRef(false)

watch(
  () => props.field.text,
  (value) => {
    if (!dirty.value) text.value = value
  },
)

useLeaveGuard(() => {
  if (dirty.value) void done()
  return dirty.value
})

async function done() {
  if (!dirty.value) return
  if (text.value === props.field.text) return back()
  try {
    if (await keep(text.value)) dirty.value = false
  } catch {
    refuse('this is not written as the document has it; look at the document as text')
  }
}

function back() {
  dirty.value = false
  text.value = props.field.text
  cancel()
}
</script>

<template>
  <div class="field inline" :data-field="field.name">
    <label :for="id">{{ field.label }}</label>
    <InputText
      :id="id"
      v-model="text"
      class="words"
      autocomplete="off"
      :data-clean="dirty ? undefined : ''"
      :invalid="fault !== ''"
      :aria-describedby="fault ? `${id}-fault` : undefined"
      @update:model-value="dirty = true"
      @keydown.enter.prevent="done"
      @keydown.escape.stop.prevent="back"
      @blur="done"
    />
    <p v-if="fault" :id="`${id}-fault`" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.words {
  flex: 1 1 240px;
  max-width: 460px;
  font-size: 1.0625rem;
  padding: 4px 8px;
}
</style>
