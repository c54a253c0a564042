<script setup lang="ts">
/** What can be changed at a joint, with the travel rule where it belongs. */
import { computed, useTemplateRef } from 'vue'

import type { Editor, Line } from '../api/client'
import EditorFields from './EditorFields.vue'
import TravelRule from './TravelRule.vue'

const props = defineProps<{ editor: Editor; lines: Line[]; values: number[] }>()
const fields = useTemplateRef<InstanceType<typeof EditorFields>>('fields')
const line = computed(() => props.lines.find((l) => l.id === props.editor.rule))
</script>

<template>
  <section class="editor" :aria-label="editor.title">
    <TravelRule
      v-if="line"
      tall
      :rule="line.rule"
      :p="values[line.p] ?? 0"
      :name="line.label"
      @drag="(stop, value) => fields?.number(stop)?.slide(value)"
      @drop="(stop) => fields?.number(stop)?.done()"
    />
    <p v-else class="label">{{ editor.title }}</p>
    <EditorFields
      ref="fields"
      class="fields"
      :class="{ stacked: !line }"
      :fields="editor.fields"
      :slider="!line"
    />
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
  gap: 8px 12px;
}

/* beside the rule, which is in percent, the figures stand in one row */
.fields:not(.stacked) :deep(.p-inputtext) {
  width: 64px;
}

.fields:not(.stacked) :deep(.field > .label) {
  position: absolute;
  clip-path: inset(50%);
}

.stacked {
  flex-direction: column;
}

.stacked :deep(label) {
  min-width: 9.5em;
}
</style>
