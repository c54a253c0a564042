<script setup lang="ts">
/** A list of the document as a plain table: rows are added and removed, cells typed; saved as a whole. */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import type { Field } from '../api/client'
import { useField } from '../composables/useField'
import { useLeaveGuard } from '../composables/useLeaveGuard'

const props = defineProps<{ field: Field }>()
const { keep, cancel, refuse, fault } = useField(() => props.field)
const copy = () => (props.field.rows ?? []).map((row) => row.slice())
const rows = shallowRef(copy())
const dirty = shallowRef(false)
const columns = computed(() => props.field.columns ?? [])

watch(
  () => props.field.rows,
  () => {
    if (!dirty.value) rows.value = copy()
  },
)

function change(next: string[][]) {
  rows.value = next
  dirty.value = true
}

function type(at: number, column: number, text: string) {
  change(rows.value.map((row, i) => (i === at ? row.map((cell, k) => (k === column ? text : cell)) : row)))
}

function add() {
  const last = rows.value.at(-1)
  change([
    ...rows.value,
    last
      ? last.slice()
      : columns.value.map((c) => (c.kind === 'number' ? '0' : (c.choices?.[0]?.value ?? ''))),
  ])
}

function take(at: number) {
  change(rows.value.filter((_, i) => i !== at))
}

const same = () => JSON.stringify(rows.value) === JSON.stringify(copy())
useLeaveGuard(() => dirty.value && !same())

async function done() {
  if (same()) return back()
  try {
    if (await keep(rows.value)) dirty.value = false
  } catch {
    refuse('a cell is not written as the document has it')
  }
}

function back() {
  dirty.value = false
  rows.value = copy()
  cancel()
}

/** So many columns stand side by side on a page of usual width. */
const few = 3
</script>

<template>
  <div class="field" :data-field="field.name" role="group" :aria-label="field.label">
    <p>{{ field.label }}</p>
    <table v-if="rows.length" :class="{ wide: columns.length > few }">
      <thead v-if="field.shape !== 'plain'">
        <tr>
          <th v-for="column in columns" :key="column.name" class="label" scope="col">{{ column.label }}</th>
          <th><span class="unseen">remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, i) in rows" :key="i">
          <td v-for="(column, k) in columns" :key="column.name">
            <span v-if="field.shape !== 'plain'" class="label own" aria-hidden="true"
              >{{ column.label }}{{ column.unit ? `, ${column.unit}` : '' }}</span
            >
            <select
              v-if="column.choices?.length"
              class="box"
              :value="row[k]"
              :aria-label="`${column.label}, row ${i + 1}`"
              @change="type(i, k, ($event.target as HTMLSelectElement).value)"
            >
              <option v-if="!column.choices.some((c) => c.value === row[k])" :value="row[k]">
                {{ row[k] || '–' }}
              </option>
              <option v-for="c in column.choices" :key="c.value" :value="c.value">{{ c.label }}</option>
            </select>
            <input
              v-else
              class="box"
              :value="row[k]"
              :data-clean="dirty ? undefined : ''"
              :class="{ fig: column.kind === 'number' }"
              :aria-label="`${column.label}, row ${i + 1}`"
              @input="type(i, k, ($event.target as HTMLInputElement).value)"
              @keydown.enter.prevent="done"
              @keydown.escape.stop.prevent="back"
            />
          </td>
          <td>
            <button type="button" class="link take" :aria-label="`remove row ${i + 1}`" @click="take(i)">
              remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="acts">
      <Button class="quiet" @click="add">Add a row</Button>
      <template v-if="dirty">
        <Button @click="done">Save</Button>
        <Button class="quiet" @click="back">Put back</Button>
      </template>
    </div>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
table {
  border-collapse: collapse;
}

th {
  text-align: left;
  font-weight: 400;
  padding-right: 8px;
}

input,
select {
  width: 130px;
}

input.fig {
  width: 92px;
  font-family: var(--mono);
  text-align: right;
}

select {
  width: 250px;
  max-width: 60vw;
}

td {
  padding: 2px 6px 2px 0;
}

/* what a cell is, where no head of a table says it */
.own {
  display: none;
}

.field {
  container: rows / inline-size;
  width: 100%;
}

/* a row of cells becomes a small stack where there is no width for a table */
@container rows (max-width: 560px) {
  thead {
    display: none;
  }

  tr {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    border-bottom: 1px solid var(--rule);
  }

  .own {
    display: block;
  }
}

@container rows (max-width: 900px) {
  .wide thead {
    display: none;
  }

  .wide tr {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    border-bottom: 1px solid var(--rule);
  }

  .wide .own {
    display: block;
  }
}
</style>
