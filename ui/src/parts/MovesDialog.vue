<script setup lang="ts">
/** What the hands did: kept by name with the model, played again, saved as a file, brought in from one. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { shallowRef, useId, useTemplateRef, watch } from 'vue'

import { api, type Recording } from '../api/client'
import { useBench } from '../stores/bench'
import { usePlayer } from '../stores/player'

const visible = defineModel<boolean>('visible', { required: true })
const bench = useBench()
const player = usePlayer()
const note = shallowRef('')
const name = shallowRef('')
const nameField = useId()
const file = useTemplateRef<HTMLInputElement>('file')

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

const path = () => ({ id: bench.model?.id ?? '' })

watch(
  visible,
  (on) => {
    note.value = ''
    if (on) void player.listRecordings()
  },
  { immediate: true },
)

const middle =
  'It begins in the middle, after an edit or more than ten minutes: ' +
  'latches may stand elsewhere when it is played.'

async function take(kind: (typeof kinds)[number]) {
  const saved = await player.save(kind.format)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([saved.text], { type: 'text/plain' }))
  link.download = `${(bench.model?.name ?? 'model').toLowerCase()}-${kind.ending}`
  link.click()
  URL.revokeObjectURL(link.href)
  note.value = saved.exact ? 'Played from power-on it gives what was seen here.' : middle
}

async function keep() {
  const called = name.value.trim()
  if (!called) {
    note.value = 'Give it a name first, such as “once round the pond”.'
    return
  }
  const saved = await player.save('script')
  const { problem } = await player.keep(called, saved)
  note.value = problem
    ? `${problem.title}: ${problem.detail}`
    : `“${called}” is saved. ${saved.exact ? '' : middle}`
  if (!problem) name.value = ''
}

async function bring() {
  for (const one of file.value?.files ?? []) {
    const called = one.name.replace(/(\.script)?\.csv$/, '')
    const { problem } = await player.keep(called, { text: await one.text(), exact: false })
    note.value = problem ? `${one.name} was not imported. ${problem.detail}` : `“${called}” is saved.`
  }
  if (file.value) file.value.value = ''
}

async function drop(recording: Recording) {
  await api.DELETE('/api/models/{id}/recordings/{recording}', {
    params: { path: { ...path(), recording: recording.id } },
  })
  await player.listRecordings()
}

function play(recording: Recording) {
  player.play(recording.id, { run: 1, seek: 0 })
  visible.value = false
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="What the hands did" :style="{ width: 'min(680px, 94vw)' }">
    <form class="keep acts" @submit.prevent="keep">
      <label :for="nameField">Keep the last ten minutes as</label>
      <InputText :id="nameField" v-model="name" autocomplete="off" maxlength="80" />
      <Button type="submit">Keep</Button>
    </form>
    <ul v-if="player.recordings.length" aria-label="Recordings">
      <li v-for="recording in player.recordings" :key="recording.id" class="recording">
        <strong>{{ recording.name }}</strong>
        <span class="acts">
          <Button class="quiet" :aria-label="`Play ${recording.name}`" @click="play(recording)">Play</Button>
          <a
            :href="`/api/models/${bench.model?.id}/recordings/${recording.id}`"
            download
            :aria-label="`Script of ${recording.name}`"
            >Script</a
          >
          <button
            type="button"
            class="link"
            :aria-label="`Throw away ${recording.name}`"
            @click="drop(recording)"
          >
            Throw away
          </button>
        </span>
      </li>
    </ul>
    <p v-else class="soft">Nothing is saved with this model yet.</p>
    <h3>As a file</h3>
    <ul>
      <li v-for="kind in kinds" :key="kind.format">
        <Button class="quiet" :data-save="kind.format" @click="take(kind)">{{ kind.label }}</Button>
        <span>{{ kind.what }}</span>
      </li>
      <li>
        <Button class="quiet" @click="file?.click()">Import</Button>
        <span>a script, from a file</span>
        <input
          ref="file"
          class="unseen"
          type="file"
          accept=".csv"
          aria-label="Script to import"
          tabindex="-1"
          @change="bring"
        />
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

li.recording {
  grid-template-columns: 1fr auto;
  border-bottom: 1px solid var(--rule);
  padding-bottom: 6px;
}

.keep input {
  flex: 1 1 180px;
}

h3 {
  margin-top: 16px;
  font-size: 1.0625rem;
}
</style>
