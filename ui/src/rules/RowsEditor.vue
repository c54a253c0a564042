<script setup lang="ts">
/** Records of a place, a row each: steps, zones, flashes. */
import Button from 'primevue/button'
import { computed, reactive, watch } from 'vue'

import { rowsOf, spaced, type Place } from './places'

const props = defineProps<{
  place: Place
  values: string[]
  /** What the first column can be, where that is a list. */
  first?: string[]
}>()
const emit = defineEmits<{ change: [values: string[]] }>()
const state = reactive<{ rows: string[][] }>({ rows: [] })
watch(
  [() => props.values.join('\n'), () => props.place.key],
  () => (state.rows = rowsOf(props.values, props.place.names.length).map((row) => row.slice())),
  { immediate: true },
)
const free = computed(() => (props.first ?? []).filter((one) => !state.rows.some((row) => row[0] === one)))

/** How a value is read: a name without its underscores, figures with their minus sign. */
const read = (value: string, column: number) =>
  (column === 0 ? spaced(value) : value).replace(/(^|[ ,])-(?=\d)/g, '$1−')
const keep = () => emit('change', state.rows.flat())
function put(row: number, column: number, value: string) {
  const own = state.rows[row]
  if (!own) return
  // a figure is sent as the server reads it; what is none is sent as it is, and refused by name
  own[column] = value.trim().replaceAll('−', '-')
  keep()
}
function add() {
  const last = state.rows.at(-1) ?? props.place.names.map(() => '')
  const next = last.slice()
  next[0] = props.first
    ? (free.value[0] ?? '')
    : last[0] && Number.isNaN(Number(last[0]))
      ? ''
      : (last[0] ?? '')
  state.rows.push(next)
  if (next.every(Boolean)) keep()
}
function drop(row: number) {
  state.rows.splice(row, 1)
  keep()
}
</script>

<template>
  <div class="rows">
    <table>
      <thead>
        <tr class="label">
          <th v-for="name in place.names" :key="name" scope="col">{{ name }}</th>
          <td></td>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, i) in state.rows" :key="i">
          <td v-for="(name, k) in place.names" :key="k">
            <select
              v-if="first && k === 0"
              class="box"
              :aria-label="`${name}, row ${i + 1}`"
              :value="row[k]"
              @change="put(i, k, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="one in first" :key="one" :value="one">{{ spaced(one) }}</option>
            </select>
            <input
              v-else
              class="box"
              :class="{ wide: place.names.length < 3 && k === place.names.length - 1 }"
              :aria-label="`${name}, row ${i + 1}`"
              :value="read(row[k] ?? '', k)"
              size="8"
              @change="put(i, k, ($event.target as HTMLInputElement).value)"
            />
          </td>
          <td>
            <Button class="quiet" :aria-label="`Remove row ${i + 1}`" @click="drop(i)">Remove</Button>
          </td>
        </tr>
      </tbody>
    </table>
    <Button v-if="!first || free.length" class="quiet" @click="add">Add a row</Button>
  </div>
</template>

<style scoped>
.rows {
  overflow-x: auto;
}

table {
  border-collapse: collapse;
}

td,
th {
  padding: 2px 8px 2px 0;
  text-align: left;
}

.box {
  max-width: 11em;
}

.wide {
  width: 100%;
  min-width: 9em;
}
</style>
