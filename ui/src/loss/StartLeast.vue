<script setup lang="ts">
/** The least that the transmitter has to wait for, and the order in which things are switched on. */
import Button from 'primevue/button'

import { api } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useRevised } from '../composables/useRevised'
import { useEdits } from '../stores/edits'

const props = defineProps<{ id: string }>()
const edits = useEdits()
const { once } = useOnce()
const { answer, problem } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/start', { params: { path: { id } }, signal }),
)
</script>

<template>
  <div role="status" :data-least="answer?.same">
    <p v-if="problem" class="fault">{{ problem.title }}</p>
    <p v-else-if="!answer" class="soft">Being worked out.</p>
    <template v-else>
      <p v-for="line in answer.lines" :key="line">{{ line }}</p>
      <p v-if="answer.same" class="soft">The transmitter waits for just that.</p>
      <Button
        v-else-if="answer.patch"
        class="quiet"
        @click="once($event, () => edits.keep(answer!.patch!))"
        >{{ answer.does }}</Button
      >
    </template>
    <p v-for="line in answer?.batteries ?? []" :key="line">{{ line }}</p>
    <p class="soft">
      Switch on the transmitter first, then the model; off in the other order. The other way round the model
      does what it does on a lost signal, until the transmitter wakes.
    </p>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
  line-height: 1.4;
}
</style>
