<script setup lang="ts">
/** Saves what the hands did in the last ten minutes. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { shallowRef } from 'vue'

import { useBench } from '../stores/bench'

const visible = defineModel<boolean>('visible', { required: true })
const bench = useBench()
const note = shallowRef('')

const kinds = [
  {
    format: 'script',
    ending: 'script.csv',
    label: 'Script',
    what: 'the movements, to play again with axtren simulate',
  },
  { format: 'csv', ending: 'trace.csv', label: 'Trace', what: 'what every output did, a row a frame' },
  {
    format: 'vcd',
    ending: 'trace.vcd',
    label: 'Waveforms',
    what: 'the same as a value change dump, for a waveform viewer',
  },
] as const

async function take(kind: (typeof kinds)[number]) {
  const file = await bench.save(kind.format)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([file.text], { type: 'text/plain' }))
  link.download = `${(bench.model?.name ?? 'model').toLowerCase()}-${kind.ending}`
  link.click()
  URL.revokeObjectURL(link.href)
  note.value = file.exact
    ? 'Played from power-on it gives what was seen here.'
    : 'It begins in the middle, after an edit or more than ten minutes: latches may stand elsewhere when it is played.'
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="What the hands did" :style="{ width: 'min(620px, 94vw)' }">
    <ul>
      <li v-for="kind in kinds" :key="kind.format">
        <Button class="quiet" :data-save="kind.format" @click="take(kind)">{{ kind.label }}</Button>
        <span>{{ kind.what }}</span>
      </li>
    </ul>
    <p class="label" role="status">{{ note }}</p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 14px;
  align-items: center;
  margin: 8px 0;
}
</style>
