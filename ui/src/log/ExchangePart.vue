<script setup lang="ts">
/** A part was exchanged: what has to be set and tried again, and what need not; then it is noted. */
import Button from 'primevue/button'
import { shallowRef, watch } from 'vue'

import { api, unreachable, type Problem, type Schemas } from '../api/client'
import { noteEvent } from '../api/events'
import { useOnce } from '../composables/useOnce'
import { today } from '../moments'

const props = defineProps<{ id: string; parts: Schemas['LogPart'][] }>()
const { once } = useOnce()
const part = shallowRef('')
const why = shallowRef('')
const told = shallowRef<Schemas['ExchangeTold']>()
const problem = shallowRef<Problem>()

watch([() => props.id, () => part.value], async ([id, one], before) => {
  if (id !== before[0]) part.value = ''
  told.value = problem.value = undefined
  if (!part.value) return
  const answer: { data?: Schemas['ExchangeTold']; error?: Problem } = await api
    .GET('/api/models/{id}/exchange', { params: { path: { id }, query: { part: one } } })
    .catch(() => ({ error: unreachable }))
  if (part.value !== one) return
  told.value = answer.data
  problem.value = answer.error
})

async function note() {
  const of = { kind: 'exchange', part: part.value, says: why.value, on: today() }
  problem.value = await noteEvent(props.id, of)
  if (problem.value) return
  part.value = why.value = ''
}
</script>

<template>
  <section aria-label="A part was exchanged" data-exchanged>
    <h3>A part was exchanged</h3>
    <p class="soft">Choose it, and see what has to be done again, and what need not.</p>
    <select v-model="part" class="box" aria-label="Which part">
      <option value="">choose the part</option>
      <option v-for="one in parts" :key="one.part" :value="one.part">{{ one.label }}</option>
    </select>
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
    <template v-if="told">
      <p v-if="!told.sets.length && !told.values.length" class="soft">Nothing has to be set again.</p>
      <ul v-else>
        <li v-for="one in told.sets" :key="one.says">
          {{ one.says }}
          <RouterLink
            class="link"
            :to="{
              name: one.place,
              params: { id },
              query: one.part ? { line: one.part.split('/')[1], part: one.part } : {},
            }"
            >Go there</RouterLink
          >
        </li>
        <li v-for="one in told.values" :key="one">With its own program: {{ one }}.</li>
      </ul>
      <p v-if="told.tries.length">Try again: {{ told.tries.join(' ') }} All else still stands.</p>
      <p v-else class="soft">Nothing that was tried and signed is of it.</p>
      <form @submit.prevent="once($event, note)">
        <label
          >Why <input v-model="why" class="box" maxlength="500" placeholder="the old one hummed"
        /></label>
        <Button type="submit">Note that it was exchanged</Button>
      </form>
    </template>
  </section>
</template>

<style scoped>
h3 {
  font-size: 1.1875rem;
}

select {
  max-width: 100%;
}

ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}

li {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

form {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  margin-top: 8px;
}

form input {
  max-width: 220px;
}
</style>
