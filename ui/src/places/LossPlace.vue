<script setup lang="ts">
/** Loss and start: what each function does on a lost signal, the delays, what the transmitter waits for. */
import Button from 'primevue/button'
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'

import type { Field } from '../api/client'
import FieldChoice from '../parts/FieldChoice.vue'
import FieldNumber from '../parts/FieldNumber.vue'
import FindingList from '../parts/FindingList.vue'
import PartForm from '../parts/PartForm.vue'
import TravelRule from '../parts/TravelRule.vue'
import { useParts } from '../composables/useParts'
import { useBench } from '../stores/bench'

defineProps<{ id: string }>()
const bench = useBench()
const route = useRoute()
const table = useTemplateRef<HTMLElement>('table')
const { opened, toggle } = useParts()

const rows = computed(() =>
  (bench.view?.lines ?? []).map((line) => ({
    line,
    mode: line.loss[0] as Field,
    value: line.loss[1],
    pointed: route.query.part === `outputs/${line.id}`,
  })),
)

/** Something else points at a function: its row is shown, and its choice gets the keys. */
watch(
  () => [route.fullPath, rows.value.length],
  async () => {
    await nextTick()
    const row = table.value?.querySelector<HTMLElement>('.pointed')
    row?.scrollIntoView({ block: 'nearest' })
    row?.querySelector<HTMLElement>('[role=combobox]')?.focus()
  },
  { immediate: true },
)
</script>

<template>
  <h2 class="unseen">Loss and start</h2>
  <div v-if="bench.view" class="loss split">
    <section aria-label="When the signal is lost">
      <h3>When the signal is lost</h3>
      <table ref="table">
        <thead>
          <tr class="label">
            <th scope="col">Function</th>
            <th scope="col">It is to</th>
            <th scope="col">Where it stands now, × where it then goes</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in rows"
            :key="row.line.id"
            :class="{ pointed: row.pointed }"
            :data-loss="row.line.id"
          >
            <th scope="row">
              <RouterLink :to="{ name: 'functions', params: { id }, query: { line: row.line.id } }">{{
                row.line.label
              }}</RouterLink>
            </th>
            <td>
              <div class="fields">
                <FieldChoice :field="row.mode" :name="`${row.line.label}: when the signal is lost`" />
                <FieldNumber v-if="row.value" :field="row.value" :name="`${row.line.label}: where it goes`" />
              </div>
            </td>
            <td>
              <TravelRule :rule="row.line.rule" :p="bench.values[row.line.p] ?? 0" :name="row.line.label" />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length === 0" class="soft">There is no function yet.</p>
      <PartForm class="below" part="start_check" />
      <p class="below">
        <Button class="quiet" data-behind="link" :aria-expanded="opened === 'link'" @click="toggle('link')"
          >The link and its delays</Button
        >
      </p>
      <PartForm v-if="opened === 'link'" part="link" />
    </section>
    <aside>
      <h3>What can hurt</h3>
      <FindingList place="loss" none="Nothing was found: what turns stops, or is not there." />
    </aside>
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.loss {
  --beside: 330px;
}

h3 {
  font-size: 1.1875rem;
}

.below {
  margin-top: 20px;
}

table {
  width: 100%;
  table-layout: fixed; /* the rule takes what is left, and is drawn to that */
  border-collapse: collapse;
}

thead th:nth-child(1) {
  width: 26%;
}

thead th:nth-child(2) {
  width: 310px;
}

thead th {
  text-align: left;
  font-weight: 400;
  border-bottom: 1.5px solid var(--ink);
}

tbody th {
  text-align: left;
  padding-right: 10px;
}

tbody tr > * {
  border-bottom: 1px solid var(--rule);
}

.pointed {
  background: var(--deck);
}

.fields {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 3px 10px 3px 0;
  min-height: var(--row);
}

.fields :deep(.field) {
  flex-wrap: nowrap;
}

.fields :deep(label) {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}

/* a function becomes a small stack where there is no width for a table */
@container main (max-width: 720px) {
  thead {
    display: none;
  }

  table,
  tbody {
    display: block;
  }

  tr {
    display: grid;
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
  }

  tbody tr > * {
    border-bottom: 0;
  }

  .fields {
    flex-wrap: wrap;
  }
}
</style>
