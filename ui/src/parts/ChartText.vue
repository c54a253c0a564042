<script setup lang="ts">
/** The chart of a receiver as a small document, to be read, copied, changed or brought in. */
import Button from 'primevue/button'
import { shallowRef } from 'vue'

import type { Problem } from '../api/client'
import { useLeaveGuard } from '../composables/useLeaveGuard'
import { useEdits } from '../stores/edits'

const props = defineProps<{
  part: string
  name: string
  text: string
  /** What a new chart begins with, where that is another one. */
  begins?: string
}>()
const emit = defineEmits<{ done: [] }>()
const edits = useEdits()
/** What a new chart begins with. */
const blank =
  props.begins ??
  `label: my chart
enters: how the first level is reached
up: what makes it one more
down: what makes it one less
next: how the next level is reached
keeps: what keeps it
levels:
  - says: what is chosen
    values:
      - {code: 1, sends: pulses}
      - {code: 2, sends: switch, on: above, level: high, at_us: 1500}
`
/** The chart as it was when it was opened. */
const was = props.text
const written = shallowRef(was || blank)
const problem = shallowRef<Problem>()
useLeaveGuard(() => written.value !== (was || blank))

async function save() {
  const outcome = await edits.act({ act: 'chart', part: props.part, value: written.value })
  problem.value = outcome.kept ? undefined : outcome.problem
  if (outcome.kept) emit('done')
}
</script>

<template>
  <div class="chart">
    <p v-if="was !== props.text" class="label">It was changed elsewhere meanwhile.</p>
    <textarea
      v-model="written"
      rows="16"
      spellcheck="false"
      :aria-label="`the chart of ${name} as text`"
      @keydown.escape.stop.prevent="emit('done')"
    />
    <ul v-if="problem" class="fault" role="alert">
      <li v-for="one in problem.errors ?? []" :key="`${one.path}${one.message}`">
        {{ one.path ? `${one.path}: ` : '' }}{{ one.message }}; {{ one.remedy }}.
      </li>
      <li v-if="!problem.errors?.length">{{ problem.title }}.</li>
    </ul>
    <Button @click="save">Save</Button>
    <Button class="quiet" @click="emit('done')">Leave it as it was</Button>
  </div>
</template>

<style scoped>
textarea {
  display: block;
  width: 100%;
  padding: 8px;
  font: 0.9375rem / 1.4 var(--mono);
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--ink);
  border-radius: 3px;
}

button {
  margin: 6px 8px 6px 0;
}
</style>
