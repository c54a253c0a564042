<script setup lang="ts">
/** The fields of an editor or a form, each by its kind. */
import { useTemplateRef } from 'vue'

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

defineExpose({ number })
</script>

<template>
  <div>
    <template v-for="field in fields" :key="field.name">
      <FieldNumber v-if="field.kind === 'number'" ref="numbers" :field="field" :slider="slider" />
      <FieldYesNo v-else-if="field.kind === 'yes_no'" :field="field" />
      <FieldChoice v-else-if="field.kind === 'choice'" :field="field" />
      <FieldReference v-else-if="field.kind === 'reference'" :field="field" />
      <FieldRows v-else-if="field.kind === 'rows'" :field="field" />
      <FieldText v-else :field="field" />
    </template>
  </div>
</template>
