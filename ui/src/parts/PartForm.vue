<script setup lang="ts">
/** The whole of one part: every field of it, its id and place, and the way to take it out. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, nextTick, shallowRef, useId, useTemplateRef, watch } from 'vue'

import { api, unreachable, type Editor, type Problem } from '../api/client'
import { neighbourOf } from '../composables/useNeighbour'
import { wasAdded } from '../composables/useParts'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import EditorFields from './EditorFields.vue'
import MenuButton from './MenuButton.vue'

/** What is whole by itself, as a piece of the shelf, has no short name and no place among others. */
const props = defineProps<{ part: string; whole?: boolean }>()
const emit = defineEmits<{ gone: []; renamed: [part: string] }>()
const bench = useBench()
const edits = useEdits()
const form = shallowRef<Editor>()
/** What is set in a view of its own is left to that: the linkage of a function. */
const fields = computed(() => form.value?.fields.filter((one) => !/^linkage(\.|$)/.test(one.name)) ?? [])
const section = useTemplateRef<HTMLElement>('section')
const problem = shallowRef<Problem>()
/** What uses the part, while it is asked whether to take that along. */
const uses = shallowRef<Problem>()
const usesShown = computed({
  get: () => uses.value !== undefined,
  set: (on) => on || (uses.value = undefined),
})
const idField = useId()
const list = computed(() => props.part.split('/')[0] ?? '')
const id = computed(() => props.part.split('/')[1])
const newId = shallowRef(id.value ?? '')

async function load() {
  const model = bench.model
  if (!model) return
  const part = props.part
  try {
    const answer = await api.GET('/api/models/{id}/form', {
      params: { path: { id: model.id }, query: { part } },
    })
    if (part !== props.part) return
    form.value = answer.data ?? form.value
    problem.value = answer.error
    if (answer.error?.status === 422) emit('gone')
    await nextTick()
    if (wasAdded(part)) section.value?.querySelector('input')?.select()
  } catch {
    problem.value = unreachable
  }
}
watch([() => props.part, () => bench.model], load, { immediate: true })
let renaming = false
watch(id, (now) => {
  newId.value = now ?? ''
  renaming = false
})

async function rename() {
  const to = newId.value.trim()
  if (!id.value || to === id.value || renaming) return
  renaming = true // Enter, and then leaving the field: once
  const outcome = await edits.act({ act: 'rename', part: props.part, to })
  renaming = outcome.kept // until the new name is here: leaving the field must not rename again
  problem.value = outcome.kept ? undefined : outcome.problem
  if (outcome.kept) emit('renamed', `${list.value}/${to}`)
}

async function move(by: number) {
  const outcome = await edits.act({ act: 'move', part: props.part, by })
  problem.value = outcome.kept || outcome.problem.status === 409 ? undefined : outcome.problem
}

/** The lines that a line can exchange its channel with. */
const others = computed(() =>
  list.value === 'outputs'
    ? (bench.view?.lines ?? [])
        .filter((line) => line.id !== id.value)
        .map((line) => ({ key: `outputs/${line.id}`, name: `${line.label} (channel ${line.channel})` }))
    : [],
)

async function exchange(to: string) {
  const outcome = await edits.act({ act: 'exchange', part: props.part, to })
  problem.value = outcome.kept ? undefined : outcome.problem
}

async function remove(along: boolean) {
  uses.value = undefined
  const goOn = neighbourOf(props.part)
  const outcome = await edits.act({ act: 'remove', part: props.part, along })
  if (outcome.kept) {
    emit('gone')
    return goOn()
  }
  edits.drop()
  if (outcome.problem.errors && !along) uses.value = outcome.problem
  else problem.value = outcome.problem
}
</script>

<template>
  <section v-if="form" ref="section" class="form" :aria-label="form.title">
    <header>
      <h3>{{ form.title }}</h3>
      <span class="label">{{ form.note }}</span>
    </header>
    <EditorFields class="fields" :fields="fields" />
    <div v-if="id && !whole" class="acts">
      <label :for="idField" class="label">short name</label>
      <InputText
        :id="idField"
        v-model="newId"
        class="id"
        autocomplete="off"
        @keydown.enter.prevent="rename"
        @blur="rename"
        @keydown.escape.stop.prevent="newId = id ?? ''"
      />
      <Button class="quiet" @click="move(-1)">Up</Button>
      <Button class="quiet" @click="move(1)">Down</Button>
      <MenuButton
        v-if="others.length"
        :items="others"
        label="Exchange channels with another function"
        data-exchange
        @choose="exchange"
        >Exchange channels with…</MenuButton
      >
      <Button class="quiet" @click="remove(false)">Remove it</Button>
    </div>
    <p v-if="problem" class="fault" role="alert">
      {{ problem.errors?.[0] ? `${problem.errors[0].message}; ${problem.errors[0].remedy}` : problem.title }}
    </p>
    <Dialog
      v-model:visible="usesShown"
      modal
      :header="`${form.title} is in use`"
      :style="{ width: 'min(600px, 94vw)' }"
    >
      <ul>
        <li v-for="fault in uses?.errors" :key="fault.path">{{ fault.message.replace(/ uses .*/, '') }}</li>
      </ul>
      <p>These cannot be without it.</p>
      <div class="acts">
        <Button @click="remove(true)">Remove them too</Button>
        <Button class="quiet" @click="usesShown = false">Leave everything as it is</Button>
      </div>
    </Dialog>
  </section>
  <p v-else-if="problem" class="fault" role="alert">{{ problem.title }}</p>
</template>

<style scoped>
.form {
  display: grid;
  gap: 10px;
  min-width: 0;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 12px;
}

h3 {
  font-size: 1.125rem;
}

.fields {
  display: grid;
  gap: 8px;
}

.fields :deep(label) {
  min-width: 11.5em;
}

.acts {
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}

.id {
  width: 170px;
  font-family: var(--mono);
  font-size: 1rem;
  padding: 4px 8px;
}
</style>
