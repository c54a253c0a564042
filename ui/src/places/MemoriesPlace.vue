<script setup lang="ts">
/** Which model is in which memory of which transmitter, as a list to print. */
import Button from 'primevue/button'
import { onMounted, shallowRef } from 'vue'

import { api, unreachable, type Problem, type Shelf } from '../api/client'

const shelf = shallowRef<Shelf>()
const problem = shallowRef<Problem>()
document.title = 'Memories · Axtren'
const print = () => window.print()
const day = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })

onMounted(async () => {
  try {
    const answer = await api.GET('/api/shelf')
    shelf.value = answer.data
    problem.value = answer.error
  } catch {
    problem.value = unreachable
  }
})
</script>

<template>
  <header class="head ofAll">
    <RouterLink to="/">Models</RouterLink>
    <RouterLink to="/shelf">Your shelf</RouterLink>
    <h1>Memories</h1>
    <span class="soft">which model is where, on {{ day }}</span>
    <Button class="print" @click="print">Print</Button>
  </header>
  <main>
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
    <p v-else-if="!shelf" class="soft">Opening the list.</p>
    <p v-else-if="!shelf.memories.length" class="soft">
      There is no model yet, and no transmitter on your shelf.
    </p>
    <section v-for="one in shelf?.memories" :key="one.piece ?? ''">
      <h2>
        <RouterLink v-if="one.piece" :to="{ name: 'shelf', params: { piece: one.piece } }">{{
          one.name
        }}</RouterLink>
        <template v-else>{{ one.name }}</template>
        <span v-if="one.of" class="label">{{ one.of }} memories</span>
      </h2>
      <p v-if="!one.held.length" class="soft">No model is in it.</p>
      <table v-else>
        <thead>
          <tr class="label">
            <th scope="col">Memory</th>
            <th scope="col">Model</th>
            <th scope="col">What it is</th>
            <th scope="col">Receiver</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="memory in one.held" :key="memory.model">
            <td class="fig">{{ memory.memory || 'not said' }}</td>
            <td>
              <RouterLink :to="{ name: 'kit', params: { id: memory.model } }">{{
                memory.name || 'a model without a name'
              }}</RouterLink>
              <p v-if="memory.twice" class="fault">{{ memory.twice }}.</p>
            </td>
            <td>{{ memory.about }}</td>
            <td>{{ memory.receivers }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </main>
</template>

<style scoped>
h2 {
  display: flex;
  align-items: baseline;
  gap: 12px;
  margin: 18px 0 4px;
  font-size: 1.1875rem;
}

.print {
  margin-left: auto;
}

main {
  max-width: 1000px;
  padding: 4px 22px 22px;
}

h2 .label {
  font-weight: 400;
}

table {
  table-layout: fixed;
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  padding: 5px 14px 5px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  vertical-align: baseline;
}

thead th {
  border-bottom: 1.5px solid var(--ink);
  font-weight: 400;
}

th:first-child {
  width: 92px;
}

th:nth-child(2) {
  width: 24%;
}

td {
  overflow-wrap: anywhere;
}

@media (max-width: 760px) {
  main {
    padding-inline: 14px;
  }

  td:nth-child(3),
  th:nth-child(3) {
    display: none;
  }

  th:first-child {
    width: 70px;
  }
}

@media print {
  .print,
  .head a {
    display: none;
  }

  section {
    break-inside: avoid;
  }
}
</style>
