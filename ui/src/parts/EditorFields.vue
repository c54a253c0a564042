<script setup lang="ts">
/** The fields of an editor or a form, each by its kind. */
import { computed, shallowRef, useTemplateRef } from 'vue'

import type { Field } from '../api/client'
import FieldChoice from './FieldChoice.vue'
import FieldNumber from './FieldNumber.vue'
import FieldReference from './FieldReference.vue'
import FieldRows from './FieldRows.vue'
import FieldText from './FieldText.vue'
import FieldYesNo from './FieldYesNo.vue'

const props = defineProps<{ fields: Field[]; slider?: boolean }>()
const numbers = useTemplateRef<InstanceType<typeof FieldNumber>[]>('numbers')

function number(name: string) {
  const at = props.fields.filter((f) => f.kind === 'number').findIndex((f) => f.name === name)
  return numbers.value?.[at]
}

/** The field that a person is in, whose meaning stands below. */
const inField = shallowRef('')
const help = computed(() => props.fields.find((f) => f.name === inField.value)?.help)
const helps = computed(() => props.fields.some((f) => f.help))

function enter(event: FocusEvent) {
  const at = event.target instanceof HTMLElement ? event.target.closest('[data-field]') : undefined
  inField.value = at?.getAttribute('data-field') ?? ''
}

defineExpose({ number })
</script>

<template>
  <div @focusin="enter">
    <template v-for="field in fields" :key="field.name">
      <FieldNumber v-if="field.kind === 'number'" ref="numbers" :field="field" :slider="slider" />
      <FieldYesNo v-else-if="field.kind === 'yes_no'" :field="field" />
      <FieldChoice v-else-if="field.kind === 'choice'" :field="field" />
      <FieldReference v-else-if="field.kind === 'reference'" :field="field" />
      <FieldRows v-else-if="field.kind === 'rows'" :field="field" />
      <FieldText v-else :field="field" />
    </template>
    <p v-if="helps" class="help" :class="{ empty: !help }" aria-live="polite">{{ help }}</p>
  </div>
</template>

<style scoped>
.help {
  position: sticky;
  bottom: 0;
  min-height: 1.5em;
  margin: 4px 0;
  background: var(--sheet);
  color: var(--soft);
  pointer-events: none;
}

/* nothing is covered where there is nothing to say, and never the field in which one is */
.help.empty {
  visibility: hidden;
}

[data-field] :deep(*) {
  scroll-margin-bottom: 3.5em;
}
</style>
