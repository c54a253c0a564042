<script setup lang="ts">
/** What of the walks that were signed has to be tried again, by what was changed since. */
import { api } from '../api/client'
import { useRevised } from '../composables/useRevised'
import { day } from '../moments'
import { useTrying } from '../stores/trying'

const props = defineProps<{ id: string; title: string }>()
const trying = useTrying()
const { answer, problem } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/again', { params: { path: { id } }, signal }),
  () => trying.kept,
)
const steps = (n: number) => (n === 1 ? '1 step' : `${n} steps`)
</script>

<template>
  <section :aria-label="title" :data-again="answer?.parts.length">
    <h3>{{ title }}</h3>
    <p v-if="problem" class="fault">{{ problem.title }}</p>
    <p v-else-if="answer && !answer.last" class="soft">Nobody has tried and signed this model yet.</p>
    <template v-else-if="answer?.last">
      <p class="soft">
        {{ day(answer.last.signed?.at ?? answer.last.made_at) }}, signed by {{ answer.last.signed?.who }},
        revision {{ answer.last.revision
        }}{{ answer.changes.length ? '. Since then, or not as it should:' : '.' }}
      </p>
      <p v-if="!answer.changes.length">Nothing was changed that would have to be tried again.</p>
      <ul v-else>
        <li v-for="one in answer.changes" :key="one.says">
          <b>{{ one.says }}</b> Try again: {{ one.parts.join(', ')
          }}<template v-if="one.steps">, at {{ steps(one.steps) }}</template
          >.
        </li>
      </ul>
      <p v-if="answer.changes.length" class="soft">All else still stands.</p>
      <slot :again="answer" />
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
