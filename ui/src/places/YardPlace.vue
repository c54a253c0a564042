<script setup lang="ts">
/** Models: all of them, each with what stands between it and the water; new ones, files in and out. */
import { useEventListener, useIntersectionObserver, useMediaQuery } from '@vueuse/core'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import ProgressBar from 'primevue/progressbar'
import { computed, nextTick, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'

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
import { onDemand } from '../composables/onDemand'
import { useLetterKeys } from '../composables/useLetterKeys'
import { useOnce } from '../composables/useOnce'
import { useTheme } from '../composables/useTheme'
import MenuButton from '../parts/MenuButton.vue'
import ModelRow from '../parts/ModelRow.vue'

const KeysDialog = onDemand(() => import('../parts/KeysDialog.vue'))
const PhonesDialog = onDemand(() => import('../parts/PhonesDialog.vue'))
const models = shallowRef<Model[]>()
const kinds = shallowRef<Kind[]>([])
const problem = shallowRef<Problem>()
const said = shallowRef('')
const keysShown = shallowRef(false)
const newShown = shallowRef(false)
const { dark, turn } = useTheme()
const letterKeys = useLetterKeys()
const { once } = useOnce()

/** So many rows are drawn at first, and again whenever one has come to the end of them. */
const atOnce = 40
const drawn = shallowRef(atOnce)
const end = useTemplateRef<HTMLElement>('end')
useIntersectionObserver(
  end,
  ([entry]) => {
    if (entry?.isIntersecting) drawn.value += atOnce
  },
  { rootMargin: '600px' },
)

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

/** Draws on, as far as a model. */
function drawTo(id?: string) {
  drawn.value = Math.max(drawn.value, listed.value.findIndex((m) => m.id === id) + 1)
}

function weight(m: Model): number {
  return (m.stands ?? []).reduce((sum, s) => sum + { error: 100, warning: 10, note: 1 }[s.severity], 0)
}

/** A model that was just begun is given its name first. */
const fresh = shallowRef<string>()
watch([fresh, models], () => drawTo(fresh.value))

async function begin(kind: string) {
  newShown.value = false
  const made = await change(() =>
    api.POST('/api/kinds/{kind}', { params: { path: { kind }, header: origin() } }),
  )
  fresh.value = made?.id
}

async function copy(model: Model) {
  const made = await change(() =>
    api.POST('/api/models/{id}/copy', { params: { path: { id: model.id }, header: origin() } }),
  )
  if (made) said.value = `${made.name} is with your models`
}

/** What was taken out since the page was opened, the newest last. */
const removed = shallowRef<Model[]>([])
const back = useTemplateRef<HTMLElement>('back')

async function remove(model: Model) {
  const path = { id: model.id }
  await change(() => api.DELETE('/api/models/{id}', { params: { path } }))
  if (problem.value) return
  removed.value = [...removed.value, model]
  said.value = ''
  await nextTick()
  back.value?.focus()
}

async function restore() {
  const last = removed.value.at(-1)
  if (!last) return
  await change(() => api.POST('/api/models/{id}/restore', { params: { path: { id: last.id } } }))
  removed.value = removed.value.slice(0, -1)
  said.value = `${last.name} is back`
  drawTo(last.id)
  await nextTick()
  document.querySelector<HTMLElement>(`[data-key='${last.id}'] a`)?.focus()
}

function rename(model: Model, name: string) {
  const patch: Patch = [{ op: 'add', path: '/name', value: name }]
  return change(() =>
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
  const good = outcomes.filter((b) => b.model && !b.model.shelf)
  const pieces = outcomes.filter((b) => b.model?.shelf)
  said.value =
    good.length === 1
      ? `${good[0]?.model?.name || good[0]?.file} is with your models`
      : good.length
        ? `${good.length} models are with your models`
        : pieces.length === 1
          ? `${pieces[0]?.model?.name} is on your shelf`
          : pieces.length
            ? `${pieces.length} pieces are on your shelf`
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

/** Phones are let in, and sent away, where Axtren runs. */
const onLaptop = ['127.0.0.1', 'localhost'].includes(location.hostname)
const phonesShown = shallowRef(false)

const phone = useMediaQuery('(max-width: 760px)')
const router = useRouter()
const more = computed(() => [
  ...(phone.value ? [{ key: 'shelf', name: 'My shelf' }] : []),
  { key: 'memories', name: 'Memories' },
  { key: 'archive', name: 'Export all models as an archive' },
  ...(onLaptop ? [{ key: 'phones', name: 'Let a phone in' }] : []),
  ...(phone.value ? [{ key: 'theme', name: dark.value ? 'Light' : 'Dark' }] : []),
])
function chooseMore(key: string) {
  if (key === 'archive') location.assign('/api/archive')
  else if (key === 'theme') turn()
  else if (key === 'shelf' || key === 'memories') void router.push({ name: key })
  else phonesShown.value = true
}
</script>

<template>
  <div
    class="yard"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <header class="head ofAll">
      <h1>Axtren</h1>
      <span class="soft">every model, and what stands between it and the water</span>
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
          <button ref="back" type="button" class="link" @click="once($event, restore)">
            put it back
          </button></template
        >
        <template v-else>{{ said }}</template>
      </span>
      <Button @click="newShown = true">New model</Button>
      <Button class="quiet" @click="file?.click()">Import</Button>
      <RouterLink v-if="!phone" to="/shelf">My shelf</RouterLink>
      <MenuButton :items="more" label="More for all models" @choose="chooseMore">…</MenuButton>
      <button v-if="!phone" type="button" class="link" :aria-pressed="dark" @click="turn">
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
          ><span :class="{ unseen: phone }">in order of </span
          ><select v-model="sort" class="box">
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
        <ModelRow
          v-for="model in listed.slice(0, drawn)"
          :key="model.id"
          :model="model"
          :fresh="model.id === fresh"
          :compact="phone"
          @rename="(name) => rename(model, name)"
          @copy="copy(model)"
          @remove="remove(model)"
        />
        <li v-if="drawn < listed.length" ref="end" class="soft">
          {{ listed.length - drawn }} more models below
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

main > ul {
  list-style: none;
  margin: 0;
  padding: 0;
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
  main {
    padding: 8px 14px;
  }

  .head .soft,
  .keysLink {
    display: none;
  }

  .tools {
    flex-wrap: nowrap;
  }

  .tools > *,
  .tools select {
    min-width: 0;
    max-width: 100%;
  }
}
</style>
