<script setup lang="ts">
/** What every function asks for, as a list; one is opened to be changed. */
import Dialog from 'primevue/dialog'
import { computed, shallowRef } from 'vue'

import type { Plan } from '../api/client'
import { capital } from '../figures'
import PartForm from './PartForm.vue'

const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ plan: Plan }>()
const opened = shallowRef<string>()
const toggle = (part: string) => (opened.value = opened.value === part ? undefined : part)

interface Row {
  part: string
  name: string
  asks: Plan['functions'][number]['asks']
}
const groups = computed<{ title: string; rows: Row[] }[]>(() => [
  {
    title: 'Of their channel and pin',
    rows: props.plan.functions.map((f) => ({ part: `wishes/${f.of}`, name: f.label, asks: f.asks })),
  },
  {
    title: 'Of their lever',
    rows: props.plan.hands.map((h) => ({
      part: `wishes/${h.of.split('/')[1]}`,
      name: h.was ? `${h.label}: ${h.moves.join(', ')}` : h.moves.join(', '),
      asks: h.asks,
    })),
  },
])
const says = (row: Row) =>
  capital(row.asks.map((a) => a.says + (a.usual ? ' (as usual)' : '')).join(', ') || 'nothing')
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    header="What the functions ask for"
    :style="{ width: 'min(860px, 96vw)' }"
  >
    <template v-for="group in groups" :key="group.title">
      <h3>{{ group.title }}</h3>
      <ul>
        <li v-for="row in group.rows" :key="row.part">
          <button
            type="button"
            class="link"
            :aria-expanded="opened === row.part"
            :data-wish="row.part"
            @click="toggle(row.part)"
          >
            {{ row.name }}
          </button>
          <span class="soft">{{ says(row) }}</span>
          <PartForm v-if="opened === row.part" class="form" :part="row.part" whole />
        </li>
      </ul>
      <p v-if="!group.rows.length" class="soft">There is none yet.</p>
    </template>
  </Dialog>
</template>

<style scoped>
h3 {
  font-size: 1.125rem;
}

ul {
  list-style: none;
  margin: 0 0 14px;
  padding: 0;
}

li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
  border-bottom: 1px solid var(--rule);
}

li > button {
  min-height: 40px;
  text-align: left;
}

.form {
  flex-basis: 100%;
  padding-bottom: 12px;
}
</style>
