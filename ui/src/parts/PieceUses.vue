<script setup lang="ts">
/** The models that have a piece: what stops in each if it breaks, and what it has not taken over. */
import { shallowRef, watch } from 'vue'

import { api, unreachable, type Affected, type Problem } from '../api/client'

const props = defineProps<{ piece: string; revision: number }>()
const list = shallowRef<Affected[]>([])
const problem = shallowRef<Problem>()
const joined = new Intl.ListFormat('en-GB')
/** A few are named, of many the rest is counted. */
const named = (list: string[]) =>
  joined.format(list.length > 5 ? [...list.slice(0, 4), `${list.length - 4} more`] : list)

watch(
  [() => props.piece, () => props.revision],
  async () => {
    const { piece } = props
    const answer = await api
      .GET('/api/shelf/{id}/uses', { params: { path: { id: piece } } })
      .catch(() => ({ data: undefined, error: unreachable }))
    if (piece !== props.piece) return
    problem.value = answer.error
    list.value = answer.data ?? list.value
  },
  { immediate: true },
)
</script>

<template>
  <section aria-label="The models that have it">
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
    <table v-else-if="list.some((one) => one.module)">
      <caption class="unseen">
        The models on this module
      </caption>
      <thead>
        <tr class="label">
          <th scope="col">Position</th>
          <th scope="col">Model</th>
          <th scope="col">Reversed</th>
          <th scope="col">Left and right differ</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in list" :key="one.model">
          <td>{{ one.module?.position || 'not said' }}</td>
          <td>
            <RouterLink :to="{ name: 'kit', params: { id: one.model } }">{{ one.name }}</RouterLink>
            <p v-if="one.module?.twice" class="fault">{{ one.module.twice }}.</p>
            <p v-if="one.takes.length" class="soft">Not taken over yet: {{ one.takes.join(' ') }}</p>
          </td>
          <td>{{ joined.format(one.module?.reversed ?? []) || 'none' }}</td>
          <td>{{ joined.format(one.module?.unequal ?? []) || 'equal' }}</td>
        </tr>
      </tbody>
    </table>
    <ul v-else>
      <li v-for="one in list" :key="one.model + one.part">
        <p>
          <RouterLink :to="{ name: 'kit', params: { id: one.model }, query: { part: one.part } }">{{
            one.name
          }}</RouterLink>, as {{ one.label }}.
          <span v-if="one.stops.length" class="soft"
            >If it breaks, {{ named(one.stops) }} {{ one.stops.length > 1 ? 'stop' : 'stops' }} there.</span
          >
          <span v-else class="soft">If it breaks, no function stops there.</span>
        </p>
        <p v-if="one.refused" class="fault">What it has now cannot be taken over: {{ one.refused }}.</p>
        <p v-else-if="one.takes.length" class="soft">Not taken over yet: {{ one.takes.join(' ') }}</p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  padding: 4px 12px 4px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  vertical-align: baseline;
}

th {
  font-weight: 400;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  padding: 4px 0;
}
</style>
