<script setup lang="ts">
/** Sheet: what to key in, in order. */
import Button from 'primevue/button'
import { shallowRef, watch } from 'vue'

import { api, unreachable, type Problem, type Sheet } from '../api/client'
import { isFigure } from '../figures'
import { useBench } from '../stores/bench'

const props = defineProps<{ id: string }>()
const bench = useBench()
const sheet = shallowRef<Sheet>()
const problem = shallowRef<Problem>()

async function load() {
  try {
    const answer = await api.GET('/api/models/{id}/sheet', { params: { path: { id: props.id } } })
    sheet.value = answer.data ?? sheet.value
    problem.value = answer.error
  } catch {
    problem.value = unreachable
  }
}
watch(() => [props.id, bench.model?.revision], load, { immediate: true })

const print = () => window.print()
</script>

<template>
  <article v-if="sheet" class="sheet">
    <header>
      <div>
        <h2>{{ sheet.name }}, what to key in</h2>
        <p class="soft">{{ [sheet.about, sheet.set].filter(Boolean).join(' · ') }}</p>
      </div>
      <div class="acts">
        <Button class="quiet" @click="print">Print</Button>
        <a class="button" :href="`/api/models/${id}/sheet.csv`" download>CSV</a>
      </div>
    </header>
    <p class="caution"><strong>Before power.</strong> {{ sheet.caution }}</p>
    <p v-if="sheet.saves" class="saves"><strong>This set keeps a change:</strong> {{ sheet.saves }}.</p>
    <section v-for="section in sheet.sections" :key="section.title">
      <h3>{{ section.title }}</h3>
      <p v-if="section.note" class="label">{{ section.note }}</p>
      <table>
        <thead class="label">
          <tr>
            <th scope="col" class="ch">Ch</th>
            <th scope="col">What</th>
            <th scope="col" class="num">Key in</th>
            <th scope="col" class="num">µs</th>
            <th scope="col">Note</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(item, i) in section.items" :key="i">
            <td class="fig ch">{{ item.channel || '' }}</td>
            <td>{{ item.what }}</td>
            <td class="num value" :class="{ fig: isFigure(item.value) }">{{ item.value }}</td>
            <td class="fig num">{{ item.us }}</td>
            <td class="note">{{ item.note }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </article>
  <p v-else-if="problem" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
  <p v-else class="soft">Writing the sheet.</p>
</template>

<style scoped>
.sheet {
  max-width: 920px;
}

header {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

h2 {
  font-size: 24px;
}

h3 {
  font-size: 19px;
  margin-top: 22px;
}

.acts {
  display: flex;
  align-items: flex-start;
  gap: 10px;
}

.button {
  display: inline-grid;
  place-items: center;
  min-height: 40px;
  padding: 0 14px;
  border: 1px solid var(--ink);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
  text-decoration: none;
}

.caution {
  margin-top: 14px;
  padding: 10px 14px;
  border: 2px solid var(--danger);
  border-left-width: 8px;
  background: var(--sheet);
}

.caution strong {
  color: var(--danger);
}

.saves {
  margin-top: 10px;
}

table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 4px;
  table-layout: fixed;
}

th {
  text-align: left;
  font-weight: 400;
  border-bottom: 1.5px solid var(--ink);
  padding: 2px 8px 2px 0;
}

td {
  border-bottom: 1px solid var(--rule);
  padding: 7px 8px 7px 0;
  vertical-align: baseline;
}

.ch {
  width: 44px;
}

.num {
  width: 210px;
  text-align: right;
  white-space: pre-wrap;
  padding-right: 18px;
}

.num + .num {
  width: 90px;
}

.value {
  font-weight: 700;
}

.note {
  color: var(--soft);
}

@media (max-width: 760px) {
  header {
    flex-direction: column;
  }

  thead {
    position: absolute;
    clip-path: inset(50%);
  }

  tr {
    display: grid;
    grid-template-columns: 34px 1fr auto auto;
    border-bottom: 1px solid var(--rule);
    padding: 6px 0;
  }

  td {
    border: 0;
    padding: 2px 6px 2px 0;
  }

  .ch,
  .num,
  .num + .num {
    width: auto;
  }

  .note {
    grid-column: 2 / -1;
    font-size: var(--label);
  }

  .note:empty {
    display: none;
  }
}

@media print {
  .acts {
    display: none;
  }

  section {
    break-inside: avoid;
  }

  .caution {
    border-color: black;
  }
}
</style>
