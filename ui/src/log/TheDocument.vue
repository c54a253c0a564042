<script setup lang="ts">
/** The document as text: edited and kept as one revision; and what differs between any two revisions. */
import { useEventListener } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, nextTick, reactive, shallowRef, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'

import {
  api,
  unreachable,
  type Differences,
  type Fault,
  type Model,
  type Problem,
  type Revision,
} from '../api/client'
import { useDrafts, type Draft } from '../composables/useDrafts'
import { endOf, whole } from '../moments'
import { useBench } from '../stores/bench'
import SameOrNot from '../parts/SameOrNot.vue'
import { useEdits } from '../stores/edits'

const props = defineProps<{ id: string }>()
const bench = useBench()
const edits = useEdits()
const text = shallowRef('')
/** The text as the revision that it was read at has it. */
const read = shallowRef({ text: '', revision: 0 })
const problem = shallowRef<Problem>()
const box = useTemplateRef<HTMLTextAreaElement>('box')
const changed = useTemplateRef<HTMLElement>('changed')
useEventListener('beforeprint', () => paper.value?.replaceChildren(text.value))
useEventListener('afterprint', () => paper.value?.replaceChildren())
const dirty = computed(() => text.value !== read.value.text)
const route = useRoute()
const drafts = useDrafts(() => props.id)
/** What was typed here before and not kept: it is asked whether to go on with it. */
const draft = shallowRef<Draft>()

async function load() {
  try {
    const answer = await fetch(`/api/models/${props.id}/export?format=yaml`)
    if (!answer.ok) return
    const own = await answer.text()
    read.value = { text: own, revision: Number(answer.headers.get('ETag')?.replaceAll('"', '')) }
    text.value = own
    problem.value = undefined
    const before = drafts.find()
    draft.value = before && before.text !== own ? before : undefined
    if (before && !draft.value) drafts.drop()
  } catch {
    problem.value = unreachable
  }
}
watch(
  () => bench.model?.revision,
  (now) => {
    if (now && !dirty.value) void load()
  },
  { immediate: true },
)

async function keep() {
  const sent = text.value
  const outcome = await edits.putText(sent, read.value.revision)
  problem.value = outcome.kept ? undefined : outcome.problem
  if (!outcome.kept) return
  if (text.value === sent) return putBack()
  read.value = { text: sent, revision: bench.model?.revision ?? 0 } // it was typed on meanwhile
}

/** Goes back to what the document says; what was typed is dropped. */
async function putBack() {
  drafts.drop()
  draft.value = undefined
  await load()
}

function goOn() {
  if (draft.value) text.value = draft.value.text
  draft.value = undefined
}

function forget() {
  drafts.drop()
  draft.value = undefined
}

watch(text, (now) => {
  if (now !== read.value.text) drafts.keep({ text: now, revision: read.value.revision, at: Date.now() })
  else if (!draft.value) drafts.drop()
})

const faults = computed<Fault[]>(() => problem.value?.errors ?? [])
const marked = computed(() => new Set(faults.value.map((f) => f.line)))
const lines = computed(() => text.value.split('\n').length)

/** Puts the cursor at the start of a line. */
async function goTo(line: number | undefined) {
  if (!line || !box.value) return
  const at =
    text.value
      .split('\n')
      .slice(0, line - 1)
      .join('\n').length + (line > 1 ? 1 : 0)
  await nextTick()
  box.value.focus()
  box.value.setSelectionRange(at, at)
  box.value.scrollTop = (line - 6) * 22
}

function scroll() {
  if (gutter.value && box.value) gutter.value.scrollTop = box.value.scrollTop
}

const revisions = shallowRef<Revision[]>([])
const from = shallowRef(0)
const to = shallowRef(0)
const differences = shallowRef<Differences>()

async function fetchRevisions(query: { after?: number; before?: number }) {
  const path = { id: props.id }
  return (await api.GET('/api/models/{id}/revisions', { params: { path, query } })).data
}

/** Those before the oldest that is listed. */
async function older() {
  const before = revisions.value[0]?.number
  if (before) revisions.value = [...((await fetchRevisions({ before })) ?? []), ...revisions.value]
}

/** Lists them back to one, as far as the server gives them. */
async function reach(number: number) {
  for (let first = revisions.value[0]?.number; first && number < first;) {
    await older()
    const now = revisions.value[0]?.number
    if (now === first) return
    first = now
  }
}

watch(
  [() => props.id, () => bench.model],
  async ([id, model], before) => {
    if (id !== before[0]) {
      revisions.value = []
      from.value = to.value = 0
    }
    if (!model) return
    const now = model.revision
    const last = revisions.value.at(-1)?.number ?? 0
    const newer = await fetchRevisions({ after: last })
    if (!newer) return
    const followed = to.value === last
    revisions.value = [
      ...revisions.value,
      ...newer.filter((r) => r.number > (revisions.value.at(-1)?.number ?? 0)),
    ]
    if (followed) to.value = now
    const asked = Number(route.query.from)
    if (asked && !from.value) await reach(asked)
    from.value ||= asked || Math.max(now - 1, 1)
  },
  { immediate: true },
)
/** Which revision was the newest at the end of a day. */
const days = reactive({ from: '', to: '' })
const noDay = shallowRef('')
async function ofDay(which: 'from' | 'to') {
  noDay.value = ''
  if (!days[which]) return
  const at = endOf(days[which])
  const answer = await api
    .GET('/api/models/{id}/revision-at', { params: { path: { id: props.id }, query: { at } } })
    .catch(() => undefined)
  const found = answer?.data?.number
  if (found === undefined) return
  if (!found) return void (noDay.value = 'The model was not there yet on that day.')
  await reach(found)
  if (which === 'from') from.value = found
  else to.value = found
}

watch([from, to], async () => {
  if (!from.value || !to.value) return
  const answer = await api.GET('/api/models/{id}/differences', {
    params: { path: { id: props.id }, query: { from: from.value, to: to.value } },
  })
  differences.value = answer.data
})

/** Who came to compare sees that first. */
const comesFirst = computed(() => Boolean(route.query.from || route.query.days))
watch(
  () => read.value.text && differences.value && comesFirst.value,
  (now) => now && void nextTick(() => changed.value?.scrollIntoView()),
)
const gutter = useTemplateRef<HTMLElement>('gutter')
const paper = useTemplateRef<HTMLElement>('paper')

/** The other models, for those who want to know whether two send the same. */
const others = shallowRef<Model[]>([])
const other = shallowRef('')
watch(
  () => props.id,
  async (id) => {
    other.value = ''
    others.value = ((await api.GET('/api/models')).data ?? []).filter((m) => m.id !== id)
  },
  { immediate: true },
)

const when = (of: Draft) => whole(of.at)

const kinds: Record<string, string> = { undo: 'taken back: ', redo: 'brought again: ' }
function name(r: Revision): string {
  return `${r.number} · ${kinds[r.kind] ?? ''}${r.words.split('\n')[0]}`
}
</script>

<template>
  <h2>The document as text</h2>
  <p class="soft">Everything the model is, in YAML. What you change here is saved as one revision.</p>
  <div v-if="draft" class="draft" role="alert">
    <span
      >What you typed here {{ when(draft) }} was not saved. It was typed on revision {{ draft.revision
      }}<template v-if="draft.revision !== read.revision">; the model is at {{ read.revision }} now</template
      >.</span
    >
    <Button data-draft="on" @click="goOn">Go on with it</Button>
    <Button class="quiet" data-draft="off" @click="forget">Throw it away</Button>
  </div>
  <div class="sheet">
    <div ref="gutter" class="gutter fig" aria-hidden="true">
      <div v-for="n in lines" :key="n" :class="{ marked: marked.has(n) }">{{ n }}</div>
    </div>
    <textarea
      ref="box"
      v-model="text"
      class="fig"
      spellcheck="false"
      aria-label="The document in YAML"
      wrap="off"
      @scroll="scroll"
      @keydown.ctrl.enter.prevent="keep"
    />
    <pre ref="paper" class="printed fig" aria-hidden="true" />
  </div>
  <div class="acts">
    <Button :disabled="!dirty" @click="keep">Save as one revision</Button>
    <Button class="quiet" :disabled="!dirty" @click="putBack">Put back</Button>
    <span v-if="dirty && bench.model && bench.model.revision > read.revision" class="label"
      >The model is at revision {{ bench.model.revision }} by now; this text was read at
      {{ read.revision }}.</span
    >
  </div>
  <div v-if="problem" role="alert" class="problem">
    <p class="strong">
      {{ problem.title }}.<template v-if="problem.status >= 400 && problem.status < 500">
        Nothing was changed.</template
      >
    </p>
    <ul v-if="faults.length">
      <li v-for="(fault, i) in faults" :key="i">
        <button v-if="fault.line" type="button" class="link" @click="goTo(fault.line)">
          line {{ fault.line }}
        </button>
        {{ fault.path }}: {{ fault.message }}<template v-if="fault.value">, it is {{ fault.value }}</template
        >.
        <span class="soft">{{ fault.remedy }}</span>
      </li>
    </ul>
    <p v-else>{{ problem.detail }}</p>
  </div>
  <h2 ref="changed" class="second">What changed</h2>
  <div class="acts">
    <label
      >from
      <select v-model.number="from" class="box" data-from>
        <option v-for="r in revisions" :key="r.number" :value="r.number">{{ name(r) }}</option>
      </select></label
    >
    <label
      >to
      <select v-model.number="to" class="box">
        <option v-for="r in revisions" :key="r.number" :value="r.number">{{ name(r) }}</option>
      </select></label
    >
    <Button v-if="(revisions[0]?.number ?? 1) > 1" class="quiet" @click="older">Older ones</Button>
  </div>
  <div class="acts" data-days>
    <label
      >or as it was at the end of <input v-model="days.from" class="box" type="date" @change="ofDay('from')"
    /></label>
    <label>and of <input v-model="days.to" class="box" type="date" @change="ofDay('to')" /></label>
    <span v-if="noDay" role="status">{{ noDay }}</span>
  </div>
  <template v-if="differences">
    <ul class="words">
      <li v-for="line in differences.words.split('\n')" :key="line">{{ line }}</li>
    </ul>
    <SameOrNot v-if="from !== to" :id :revision="from" :with-revision="to" />
    <div
      v-if="differences.lines.length"
      class="differences fig"
      tabindex="0"
      role="group"
      aria-label="Differences as text"
    >
      <div v-for="(line, i) in differences.lines" :key="i" :class="line.kind">
        <span aria-hidden="true">{{
          line.kind === 'gone' ? '− ' : line.kind === 'new' ? '+ ' : '  '
        }}</span><span v-if="line.kind === 'gone' || line.kind === 'new'" class="unseen">{{
          line.kind === 'gone' ? 'removed: ' : 'new: '
        }}</span
        >{{ line.kind === 'gap' ? '⋯' : line.text }}
      </div>
    </div>
  </template>

  <template v-if="others.length">
    <h2 class="second">Beside another model</h2>
    <div class="acts">
      <label
        >does it send the same as
        <select v-model="other" class="box" data-other>
          <option value="">choose a model</option>
          <option v-for="m in others" :key="m.id" :value="m.id">{{ m.name }}</option>
        </select></label
      >
    </div>
    <SameOrNot v-if="other" :id :with="other" />
  </template>
</template>

<style scoped>
h2 {
  font-size: 1.25rem;
}

.second {
  margin-top: 26px;
}

.sheet {
  display: flex;
  height: 420px;
  margin: 10px 0;
  border: 1px solid var(--ink);
  border-radius: 4px;
  background: var(--sheet);
  font-size: 0.9375rem;
  line-height: 22px;
}

.draft {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
  margin-top: 10px;
  padding: 8px 12px;
  border: 1.5px solid var(--ink);
  border-left-width: 6px;
}

.gutter {
  overflow: hidden;
  padding: 8px;
  min-width: 52px;
  text-align: right;
  color: var(--soft);
  border-right: 1px solid var(--rule);
}

.gutter .marked {
  background: var(--now);
  color: var(--ink-always);
  font-weight: 700;
}

textarea {
  flex: 1;
  min-width: 0;
  padding: 8px;
  border: 0;
  resize: none;
  background: none;
  color: var(--ink);
  font-size: 0.9375rem;
  line-height: 22px;
}

.acts label {
  max-width: 100%;
}

select {
  max-width: min(380px, 100%);
}

.problem {
  margin-top: 10px;
}

.strong {
  font-weight: 700;
}

.differences {
  overflow-x: auto;
  padding: 8px;
  border: 1px solid var(--rule);
  background: var(--sheet);
  font-size: 0.9062rem;
  line-height: 20px;
}

.gone {
  text-decoration: line-through;
  color: var(--soft);
}

.new {
  font-weight: 700;
}

/* paper has the whole text, which a box of a window has not */
.printed {
  display: none;
}

@media print {
  .printed {
    display: block;
    margin: 0;
    font-size: 9pt;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }

  .sheet {
    height: auto;
    border: 0;
  }

  textarea,
  .gutter,
  .acts,
  .draft {
    display: none;
  }
}
</style>
