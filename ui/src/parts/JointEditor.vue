<script setup lang="ts">
/** What can be changed at a joint, with the travel rule where it belongs. */
import { computed, useTemplateRef } from 'vue'

import type { Editor, Line } from '../api/client'
import FieldChoice from './FieldChoice.vue'
import FieldNumber from './FieldNumber.vue'
import FieldYesNo from './FieldYesNo.vue'
import TravelRule from './TravelRule.vue'

const props = defineProps<{ editor: Editor; lines: Line[]; values: number[] }>()
const numbers = useTemplateRef<InstanceType<typeof FieldNumber>[]>('numbers')
const line = computed(() => props.lines.find((l) => l.id === props.editor.rule))

function numberField(name: string) {
  const at = props.editor.fields.filter((f) => f.kind === 'number').findIndex((f) => f.name === name)
  return numbers.value?.[at]
}
</script>

<template>
  <section class="editor" :aria-label="editor.title">
    <TravelRule
      v-if="line"
      tall
      :rule="line.rule"
      :p="values[line.p] ?? 0"
      :name="line.label"
      @drag="(stop, value) => numberField(stop)?.slide(value)"
      @drop="(stop) => numberField(stop)?.done()"
    />
    <p v-else class="label">{{ editor.title }}</p>
    <div class="fields" :class="{ stacked: !line }">
      <template v-for="field in editor.fields" :key="field.name">
        <FieldNumber v-if="field.kind === 'number'" ref="numbers" :field="field" :slider="!line" />
        <FieldYesNo v-else-if="field.kind === 'yes_no'" :field="field" />
        <FieldChoice v-else :field="field" />
      </template>
    </div>
    <p v-if="editor.note" class="label">{{ editor.note }}</p>
  </section>
</template>

<style scoped>
.editor {
  display: grid;
  gap: 8px;
  align-content: start;
  min-width: 0;
}

.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 22px;
}

.stacked {
  flex-direction: column;
}

.stacked :deep(label) {
  min-width: 9.5em;
}
</style>
