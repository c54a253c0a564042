<script setup lang="ts">
/** What of the last walk that was signed has to be tried again, by what was changed since. */
import { api, type Schemas } from '../api/client'
import { useRevised } from '../composables/useRevised'

const props = defineProps<{ id: string; walk: Schemas['WalkHead'] }>()
const { answer, problem } = useRevised(
  () => props.id,
  (id, signal) =>
    api.GET('/api/models/{id}/walks/{walk}/again', {
      params: { path: { id, walk: props.walk.id } },
      signal,
    }),
)
const day = new Date(props.walk.signed?.at ?? props.walk.made_at).toLocaleDateString(undefined, {
  day: 'numeric',
  month: 'long',
})
const tried = (steps: number) => (steps === 1 ? '1 step' : `${steps} steps`)
</script>

<template>
  <section aria-label="Since the last walk" :data-again="answer?.steps">
    <h3>Since the last walk</h3>
    <p v-if="problem" class="fault">{{ problem.title }}</p>
    <template v-else-if="answer">
      <p v-if="!answer.changes.length">
        Nothing was changed that would have to be tried again. It stands as it was signed on {{ day }}.
      </p>
      <ul v-else>
        <li v-for="one in answer.changes" :key="one.says">
          <b>{{ one.says }}</b> Try again: {{ one.parts.join(', ')
          }}<template v-if="one.steps">, at {{ tried(one.steps) }} of {{ answer.of }}</template
          >.
        </li>
      </ul>
      <p v-if="answer.changes.length" class="soft">All else still stands, {{ day }}.</p>
    </template>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

h3 {
  font-size: 1.1875rem;
}
</style>
