<script setup lang="ts">
/**
 * Yard: all models, each with what stands between it and the water; new, copy, rename, take out, in and out
 * of files.
 */
import { useEventListener } from '@vueuse/core'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import ProgressBar from 'primevue/progressbar'
import { computed, nextTick, onMounted, shallowRef, useTemplateRef } from 'vue'

import {
  api,
  origin,
  unreachable,
  type Brought,
  type Kind,
  type Model,
  type Patch,
  type Problem,
} from '../api/client'
import { useLetterKeys } from '../composables/useLetterKeys'
import { useOnce } from '../composables/useOnce'
import { useTheme } from '../composables/useTheme'
import PhonesDialog from '../parts/PhonesDialog.vue'
import KeysDialog from '../parts/KeysDialog.vue'

const models = shallowRef<Model[]>()
const kinds = shallowRef<Kind[]>([])
const problem = shallowRef<Problem>()
const said = shallowRef('')
const keysShown = shallowRef(false)
const newShown = shallowRef(false)
const { dark, turn } = useTheme()
const letterKeys = useLetterKeys()
const { once } = useOnce()

async function load() {
  try {
    const answer = await api.GET('/api/models')
    models.value = answer.data ?? models.value
    problem.value = answer.error
  } catch {
    problem.value = unreachable
  }
}
onMounted(async () => {
  document.title = 'Axtren'
  void load()
  kinds.value = (await api.GET('/api/kinds')).data ?? []
})

/** Runs one change of the yard and says what went wrong, if anything did. */
async function change<T>(request: () => Promise<{ data?: T; error?: Problem }>): Promise<T | undefined> {
  try {
    const answer = await request()
    problem.value = answer.error
    await load()
    return answer.data
  } catch {
    problem.value = unreachable
    return undefined
  }
}

const find = shallowRef('')
const sort = shallowRef<'name' | 'changed' | 'stands'>('changed')
const search = useTemplateRef<HTMLInputElement>('search')

const listed = computed(() => {
  const words = find.value.toLowerCase()
  const all = (models.value ?? []).filter((m) =>
    `${m.name} ${m.about} ${m.kind}`.toLowerCase().includes(words),
  )
  if (sort.value === 'name') return all.sort((a, b) => a.name.localeCompare(b.name))
  if (sort.value === 'stands') return all.sort((a, b) => weight(b) - weight(a))
  return all.sort((a, b) => b.changed_at.localeCompare(a.changed_at))
})

function weight(m: Model): number {
  return (m.stands ?? []).reduce((sum, s) => sum + { error: 100, warning: 10, note: 1 }[s.severity], 0)
}

async function begin(kind: string) {
  newShown.value = false
  const made = await change(() =>
    api.POST('/api/kinds/{kind}', { params: { path: { kind }, header: origin() } }),
  )
  if (made) void rename(made)
}

async function copy(model: Model) {
  const made = await change(() =>
    api.POST('/api/models/{id}/copy', { params: { path: { id: model.id }, header: origin() } }),
  )
  if (made) said.value = `${made.name} is with your models`
}

/** What was taken out since the page was opened, the newest last. */
const removed = shallowRef<Model[]>([])

async function remove(model: Model) {
  const path = { id: model.id }
  await change(() => api.DELETE('/api/models/{id}', { params: { path } }))
  if (problem.value) return
  removed.value = [...removed.value, model]
  said.value = ''
}

async function restore() {
  const last = removed.value.at(-1)
  if (!last) return
  await change(() => api.POST('/api/models/{id}/restore', { params: { path: { id: last.id } } }))
  removed.value = removed.value.slice(0, -1)
  said.value = `${last.name} is back`
}

const renaming = shallowRef<string>()
const newName = shallowRef('')
const nameField = useTemplateRef<HTMLInputElement[]>('nameField')

async function rename(model: Model) {
  newName.value = model.name
  renaming.value = model.id
  await nextTick()
  nameField.value?.[0]?.select()
}

async function keepName(model: Model) {
  if (renaming.value !== model.id) return
  renaming.value = undefined
  const name = newName.value.trim()
  if (!name || name === model.name) return
  const patch: Patch = [{ op: 'add', path: '/name', value: name }]
  await change(() =>
    api.PATCH('/api/models/{id}', {
      params: { path: { id: model.id }, header: { ...origin(), 'If-Match': `"${model.revision}"` } },
      body: patch,
      headers: { 'Content-Type': 'application/json-patch+json' },
    }),
  )
}

const file = useTemplateRef<HTMLInputElement>('file')
/** What became of each file that was brought in. */
const brought = shallowRef<Brought[]>([])
const broughtShown = computed({
  get: () => brought.value.some((b) => b.problem),
  set: (on) => on || (brought.value = []),
})
const waiting = shallowRef(0)
const coming = shallowRef(0)
const stopped = shallowRef(false)

/** A file goes as the bytes that it is, whatever type the contract's client takes a binary body for. */
const bytes = (chosen: File) => ({
  body: chosen.name,
  bodySerializer: () => chosen,
  headers: { 'Content-Type': 'application/octet-stream' },
})

/** Sends the bytes of a file as they are: the server reads them, and says what is wrong with them. */
async function bring(chosen: File): Promise<Brought[]> {
  try {
    if (chosen.name.toLowerCase().endsWith('.zip')) {
      const answer = await api.POST('/api/archive', { params: { header: origin() }, ...bytes(chosen) })
      return answer.data ?? [{ file: chosen.name, problem: answer.error }]
    }
    const format = chosen.name.toLowerCase().endsWith('.json') ? 'json' : 'yaml'
    const answer = await api.POST('/api/models', {
      params: { header: origin(), query: { format } },
      ...bytes(chosen),
    })
    return [{ file: chosen.name, model: answer.data, problem: answer.error }]
  } catch {
    return [{ file: chosen.name, problem: unreachable }]
  }
}

async function bringAll(files: Iterable<File>) {
  const list = [...files]
  const outcomes: Brought[] = []
  stopped.value = false
  waiting.value = coming.value = list.length
  for (const one of list) {
    if (stopped.value) break
    outcomes.push(...(await bring(one)))
    waiting.value--
  }
  waiting.value = 0
  brought.value = outcomes
  const good = outcomes.filter((b) => b.model)
  said.value =
    good.length === 1
      ? `${good[0]?.model?.name || good[0]?.file} is with your models`
      : good.length
        ? `${good.length} models are with your models`
        : ''
  await load()
}

async function chosen() {
  await bringAll(file.value?.files ?? [])
  if (file.value) file.value.value = ''
}

const over = shallowRef(false)
function dropped(event: DragEvent) {
  over.value = false
  void bringAll(event.dataTransfer?.files ?? [])
}

function keys(event: KeyboardEvent) {
  if (event.target instanceof HTMLElement && event.target.closest('input, textarea, select')) return
  if (event.key === '?' && letterKeys.value) keysShown.value = true
  if (event.key === '/' && letterKeys.value) {
    event.preventDefault()
    search.value?.focus()
  }
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') void restore()
}
useEventListener('keydown', keys)

function when(model: Model): string {
  return new Date(model.changed_at).toLocaleDateString(undefined, {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  })
}

/** Phones are let in, and sent away, where Axtren runs. */
const onLaptop = ['127.0.0.1', 'localhost'].includes(location.hostname)
const phonesShown = shallowRef(false)

const marks = { error: '✕', warning: '!', note: '·' }
</script>

<template>
  <div
    class="yard"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <header class="head">
      <h1>Axtren</h1>
      <span class="soft">all your models</span>
      <span class="label state" role="status">
        <template v-if="waiting"
          ><ProgressBar
            v-if="coming > 1"
            class="coming"
            :value="(100 * (coming - waiting)) / coming"
            :show-value="false"
            aria-label="Files that are in"
          />
          {{ waiting }} files to go
          <button type="button" class="link" @click="stopped = true">stop</button></template
        >
        <template v-else-if="removed.length"
          >{{ removed.at(-1)?.name }} was removed
          <button type="button" class="link" @click="once($event, restore)">put it back</button></template
        >
        <template v-else>{{ said }}</template>
      </span>
      <Button @click="newShown = true">New model</Button>
      <Button class="quiet" @click="file?.click()">Import files</Button>
      <a class="act" href="/api/archive" download>All models as an archive</a>
      <button v-if="onLaptop" type="button" class="link" @click="phonesShown = true">Phones</button>
      <button type="button" class="link" :aria-pressed="dark" @click="turn">
        {{ dark ? 'Light' : 'Dark' }}
      </button>
      <button type="button" class="link keysLink" @click="keysShown = true">Keys ?</button>
      <input
        ref="file"
        class="unseen"
        type="file"
        multiple
        accept=".yaml,.yml,.json,.zip"
        aria-label="Files to import"
        tabindex="-1"
        @change="chosen"
      />
    </header>
    <main>
      <p v-if="problem" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
      <div v-if="models?.length" class="tools">
        <input
          ref="search"
          v-model="find"
          class="box"
          type="search"
          placeholder="Search"
          aria-label="Search models"
        />
        <label class="label"
          >in order of
          <select v-model="sort" class="box">
            <option value="changed">the last change</option>
            <option value="name">the name</option>
            <option value="stands">what is left to do</option>
          </select></label
        >
      </div>
      <div v-if="models?.length === 0" class="empty">
        <p>
          <strong>No model yet.</strong> Begin one as what it is; it gets the few functions that such a craft
          usually has.
        </p>
        <p class="acts">
          <Button
            v-for="kind in kinds"
            :key="kind.kind"
            class="quiet"
            @click="once($event, () => begin(kind.kind))"
            >{{ kind.label }}</Button
          >
        </p>
        <p class="soft">Or drop files here: setups in YAML or JSON, or an archive of models.</p>
      </div>
      <ul v-else-if="models">
        <li v-for="model in listed" :key="model.id" :data-model="model.name">
          <div>
            <input
              v-if="renaming === model.id"
              ref="nameField"
              v-model="newName"
              class="box name"
              :aria-label="`New name of ${model.name}`"
              @keydown.enter.prevent="keepName(model)"
              @keydown.escape.prevent="renaming = undefined"
              @blur="keepName(model)"
            />
            <h2 v-else-if="model.broken">{{ model.name || 'a model without a name' }}</h2>
            <h2 v-else>
              <RouterLink :to="{ name: 'functions', params: { id: model.id } }">{{
                model.name || 'a model without a name'
              }}</RouterLink>
            </h2>
            <p class="soft">{{ model.about }}</p>
          </div>
          <p v-if="model.broken" class="stands">
            This model cannot be read by this Axtren: {{ model.broken }}. It is not lost: take it out as a
            file, mend it, and bring it in again.
          </p>
          <div v-else>
            <ul class="stands" aria-label="Before the water">
              <li v-for="stand in model.stands" :key="stand.place + stand.words" :class="stand.severity">
                <span class="markOf" aria-hidden="true">{{ marks[stand.severity] }}</span>
                <span class="label">{{ stand.place }}</span> {{ stand.words }}
              </li>
            </ul>
            <p v-if="!model.stands?.length" class="soft">
              {{ model.lines }} functions, nothing found that wants a look
            </p>
          </div>
          <p class="label">revision {{ model.revision }}<br />{{ when(model) }}</p>
          <p class="acts">
            <a
              v-if="model.broken"
              class="act"
              :href="`/api/models/${model.id}/export`"
              download
              :aria-label="`${model.name} as a file`"
              >Export as a file</a
            >
            <template v-else>
              <RouterLink
                class="act"
                :to="{ name: 'functions', params: { id: model.id } }"
                :aria-label="`Open ${model.name}`"
                >Open</RouterLink
              >
              <RouterLink
                class="link"
                :to="{ name: 'functions', params: { id: model.id }, query: { trouble: '' } }"
                :aria-label="`Something is wrong with ${model.name}`"
                >Something is wrong</RouterLink
              >
              <button type="button" class="link" :aria-label="`Rename ${model.name}`" @click="rename(model)">
                Rename
              </button>
              <button
                type="button"
                class="link"
                :aria-label="`Copy ${model.name}`"
                @click="once($event, () => copy(model))"
              >
                Copy
              </button>
              <a
                :href="`/api/models/${model.id}/export?format=yaml`"
                download
                :aria-label="`${model.name} as YAML`"
                >YAML</a
              >
              <a
                :href="`/api/models/${model.id}/export?format=json`"
                download
                :aria-label="`${model.name} as JSON`"
                >JSON</a
              >
            </template>
            <button
              type="button"
              class="link"
              :aria-label="`Remove ${model.name}`"
              @click="once($event, () => remove(model))"
            >
              Remove
            </button>
          </p>
        </li>
        <li v-if="listed.length === 0" class="soft">No model has these words in it.</li>
      </ul>
      <p v-else-if="!problem" class="soft">Opening the models.</p>
    </main>
    <Dialog v-model:visible="newShown" modal header="What is it?" :style="{ width: 'min(680px, 94vw)' }">
      <ul class="kinds">
        <li v-for="kind in kinds" :key="kind.kind">
          <Button class="quiet" :data-kind="kind.kind" @click="once($event, () => begin(kind.kind))">{{
            kind.label
          }}</Button>
          <span>{{ kind.words }}</span>
        </li>
      </ul>
    </Dialog>
    <Dialog
      v-model:visible="broughtShown"
      modal
      :header="brought.length > 1 ? 'Not all files were imported' : `${brought[0]?.file} was not imported`"
      :style="{ width: 'min(760px, 94vw)' }"
    >
      <section v-for="one in brought" :key="one.file">
        <p v-if="one.model">
          <strong>{{ one.file }}</strong> is with your models as {{ one.model.name }}.
        </p>
        <template v-else-if="one.problem">
          <p>
            <strong>{{ one.file }}</strong>: {{ one.problem.title
            }}{{
              one.problem.status >= 400 && one.problem.status < 500
                ? '. Nothing of it is with your models.'
                : '.'
            }}
          </p>
          <ul v-if="one.problem.errors" class="faults">
            <li v-for="(fault, i) in one.problem.errors" :key="i">
              <strong>{{
                [fault.line ? `line ${fault.line}` : '', fault.path].filter(Boolean).join(', ') ||
                'the whole file'
              }}</strong>
              {{ fault.message }}<template v-if="fault.value">, it is {{ fault.value }}</template
              >.
              <span class="soft">{{ fault.remedy }}</span>
            </li>
          </ul>
          <p v-else>{{ one.problem.detail }}</p>
        </template>
      </section>
    </Dialog>
    <PhonesDialog v-model:visible="phonesShown" />
    <KeysDialog v-model:visible="keysShown" place="yard" />
  </div>
</template>

<style scoped>
.coming {
  display: inline-block;
  width: 120px;
  height: 8px;
  vertical-align: middle;
}

.yard {
  min-height: 100dvh;
}

.over {
  outline: 5px dashed var(--petrol);
  outline-offset: -8px;
}

.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  min-height: 52px;
  padding: 4px 22px;
  border-bottom: 1.5px solid var(--ink);
}

h1 {
  font-size: 22px;
}

.state {
  margin-left: auto;
}

main {
  max-width: 1240px;
  padding: 14px 22px;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
}

.name {
  width: 100%;
  font-weight: 700;
  font-size: 18px;
}

main > ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

main > ul > li {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 140px 400px;
  gap: 6px 18px;
  align-items: center;
  padding: 12px 0;
  border-bottom: 1px solid var(--rule);
}

h2 {
  font-size: 20px;
}

h2 a {
  color: var(--ink);
}

.stands {
  list-style: none;
  margin: 0;
  padding: 0;
}

.markOf {
  display: inline-block;
  width: 16px;
  font-weight: 700;
}

.error .markOf {
  color: var(--danger);
}

.act {
  display: inline-grid;
  place-items: center;
  min-height: 40px;
  padding: 0 12px;
  border: 1px solid var(--ink);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
  text-decoration: none;
}

.kinds {
  list-style: none;
  padding: 0;
  margin: 0;
}

.kinds li {
  display: grid;
  grid-template-columns: 220px 1fr;
  gap: 14px;
  align-items: center;
  margin: 8px 0;
}

.faults {
  padding-left: 20px;
}

.faults li {
  margin: 8px 0;
  overflow-wrap: anywhere;
}

.empty {
  display: grid;
  gap: 14px;
  padding: 30px 0;
}

@media (max-width: 760px) {
  main > ul > li {
    grid-template-columns: minmax(0, 1fr);
  }

  main {
    padding: 8px 14px;
  }

  .head {
    padding: 4px 14px;
  }

  .head .soft,
  .keysLink {
    display: none;
  }
}
</style>
