<script setup lang="ts">
/** Log: everything that happened to a model, and what has to be done again; its document one step behind. */
import { useDebounceFn } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, unreachable, type Problem, type Schemas } from '../api/client'
import { useDrafts } from '../composables/useDrafts'
import { useOnce } from '../composables/useOnce'
import ExchangePart from '../log/ExchangePart.vue'
import NoteForm from '../log/NoteForm.vue'
import TheDocument from '../log/TheDocument.vue'
import { moment, whole } from '../moments'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import { useTrying } from '../stores/trying'
import TryAgain from '../walk/TryAgain.vue'

type Told = Schemas['LogTold']
const props = defineProps<{ id: string }>()
const bench = useBench()
const edits = useEdits()
const trying = useTrying()
const route = useRoute()
const router = useRouter()
const { once } = useOnce()

const groups = [
  { key: undefined, name: 'all' },
  { key: 'changes', name: 'changes' },
  { key: 'measured', name: 'measured' },
  { key: 'tried', name: 'tried' },
  { key: 'notes', name: 'notes' },
] as const
const only = shallowRef<(typeof groups)[number]['key']>()
const find = shallowRef('')
const told = shallowRef<Told>()
const problem = shallowRef<Problem>()
const noting = shallowRef(false)
let asked = 0

async function ask(before?: string) {
  const turn = ++asked
  const query = { only: only.value, find: find.value.trim() || undefined, before }
  const answer: { data?: Told; error?: Problem } = await api
    .GET('/api/models/{id}/log', { params: { path: { id: props.id }, query } })
    .catch(() => ({ error: unreachable }))
  if (turn !== asked) return
  problem.value = answer.error
  if (!answer.data) return
  const entries = before ? [...(told.value?.entries ?? []), ...answer.data.entries] : answer.data.entries
  told.value = { ...answer.data, entries }
}
/* the server tells this page too what was noted or taken back on it */
watch([() => props.id, () => bench.model?.revision, () => trying.kept, () => only.value], () => void ask(), {
  immediate: true,
})
watch(
  find,
  useDebounceFn(() => ask(), 150),
)
watch(
  () => props.id,
  () => {
    told.value = undefined
    noting.value = false
  },
)

/** What is asked once more before it is done, by the key of its row. */
const sure = shallowRef('')
async function takeBack(key: string) {
  sure.value = ''
  const path = { id: props.id, event: key }
  const answer: { error?: Problem } = await api
    .DELETE('/api/models/{id}/events/{event}', { params: { path } })
    .catch(() => ({ error: unreachable }))
  problem.value = answer.error
}

/** Everything becomes what it was at a revision, as a new one. */
async function goBack(revision: number) {
  sure.value = ''
  const now = bench.model?.revision
  if (!now) return
  const answer = await fetch(`/api/models/${props.id}/export?format=yaml&revision=${revision}`).catch(
    () => undefined,
  )
  if (!answer?.ok) return void (problem.value = unreachable)
  const outcome = await edits.putText(await answer.text(), now)
  problem.value = outcome.kept ? undefined : outcome.problem
}

/** Takes back what made a revision, whatever was changed after it. */
async function undo(revision: number) {
  const outcome = await edits.undo(revision)
  problem.value = outcome.kept ? undefined : outcome.problem
}

/** What was typed into the text and not saved is not forgotten here. */
const drafts = useDrafts(() => props.id)
const draft = computed(() => (isText.value ? undefined : drafts.find()))

const isText = computed(() => route.query.view === 'text')
const newest = computed(() => bench.model?.revision ?? 0)
const isRevision = (key: string) => key.startsWith('r')
function compare(from: number) {
  void router.push({ query: { view: 'text', from } })
}
const empty = computed(() =>
  find.value.trim() ? `Nothing here has “${find.value.trim()}”.` : 'Nothing of this kind happened yet.',
)
</script>

<template>
  <template v-if="isText">
    <RouterLink class="link" data-back :to="{ query: {} }">Back to what happened</RouterLink>
    <TheDocument :id />
  </template>
  <div v-else class="log split">
    <section aria-label="What happened">
      <div class="head">
        <h2>What happened</h2>
        <span class="groups chosen" role="group" aria-label="Which of it">
          <Button
            v-for="one in groups"
            :key="one.name"
            class="quiet"
            :aria-pressed="only === one.key"
            @click="only = one.key"
            >{{ one.name }}</Button
          >
        </span>
        <input
          v-model="find"
          class="box find"
          type="search"
          placeholder="Search"
          aria-label="Search"
          maxlength="100"
        />
        <Button class="quiet" :aria-expanded="noting" data-note @click="noting = !noting">Add a note</Button>
      </div>
      <p v-if="draft" class="draft" role="alert">
        What you typed into the text {{ whole(draft.at) }} was not saved.
        <RouterLink class="link" :to="{ query: { view: 'text' } }">Look at it</RouterLink>
      </p>
      <NoteForm v-if="noting && told" :id :parts="told.parts" @leave="noting = false" />
      <p v-if="problem" class="fault" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
      <ol v-if="told?.entries.length" class="entries">
        <li v-for="one in told.entries" :key="one.key" :data-entry="one.kind">
          <span class="soft when">{{ moment(one.at) }}</span>
          <span class="fig soft number">{{ isRevision(one.key) ? one.revision : '' }}</span>
          <div class="what">
            <b>{{ one.head }}</b>
            <p v-for="(line, i) in one.more" :key="i" class="soft">{{ line }}</p>
            <p v-if="sure === one.key" class="sure">
              <template v-if="one.noted">Is it to be taken back? </template>
              <template v-else>
                Everything as it was at revision {{ one.revision }}? It becomes a new revision, and can be
                undone.
              </template>
              <Button
                class="quiet"
                data-sure
                @click="once($event, () => (one.noted ? takeBack(one.key) : goBack(one.revision)))"
                >{{ one.noted ? 'Take it back' : `Go back to ${one.revision}` }}</Button
              >
              <Button class="quiet" @click="sure = ''">Leave it</Button>
            </p>
          </div>
          <span class="does">
            <template v-if="isRevision(one.key)">
              <button
                v-if="one.undo"
                type="button"
                class="link"
                :aria-label="`Undo: ${one.head}`"
                @click="once($event, () => undo(one.revision))"
              >
                undo
              </button>
              <button
                v-if="one.revision < newest"
                type="button"
                class="link"
                :aria-label="`Compare with revision ${one.revision}`"
                @click="compare(one.revision)"
              >
                compare
              </button>
              <button
                v-if="one.revision < newest"
                type="button"
                class="link"
                :aria-label="`Go back to revision ${one.revision}`"
                @click="sure = one.key"
              >
                go back
              </button>
            </template>
            <button
              v-else-if="one.noted"
              type="button"
              class="link"
              :aria-label="`Take back: ${one.head}`"
              @click="sure = one.key"
            >
              take back
            </button>
          </span>
        </li>
      </ol>
      <p v-else-if="told" class="soft">{{ empty }}</p>
      <Button v-if="told?.more" class="quiet" @click="once($event, () => ask(told?.more))">Older ones</Button>
    </section>
    <aside>
      <TryAgain :id title="When it last worked">
        <template #default="{ again }">
          <div v-if="again.worked" class="acts">
            <Button
              v-if="again.worked.revision < newest"
              class="quiet"
              data-compare
              @click="compare(again.worked.revision)"
              >What was set then</Button
            >
          </div>
          <p v-else class="soft">It was never tried in full with all as it should be.</p>
          <RouterLink class="link" :to="{ name: 'bench', params: { id } }"
            >Try it again on the bench</RouterLink
          >
        </template>
      </TryAgain>
      <ExchangePart v-if="told" :id :parts="told.parts" />
      <section v-if="told?.totals.length" aria-label="How long it was run">
        <h3>How long it was run</h3>
        <p v-for="line in told.totals" :key="line">{{ line }}</p>
      </section>
      <section v-if="told?.values.length" aria-label="Set with programs of their own">
        <h3>Set with programs of their own</h3>
        <p v-for="line in told.values" :key="line">{{ line }}</p>
      </section>
      <section aria-label="The whole document">
        <h3>The whole of it</h3>
        <p class="acts files">
          <RouterLink class="link" data-text :to="{ query: { view: 'text' } }">as text</RouterLink>
          <RouterLink class="link" :to="{ query: { view: 'text', days: 'on' } }">compare two days</RouterLink>
          <a class="link" :href="`/api/models/${id}/export?format=yaml`" download>export</a>
          <a class="link" :href="`/api/models/${id}/book.pdf`" download>one printed book</a>
          <a class="link" :href="`/api/models/${id}/log.csv`" download>what happened, as a table</a>
        </p>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.log {
  --beside: 320px;
}

h2 {
  font-size: 1.25rem;
}

.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 10px;
}

.draft {
  padding: 8px 12px;
  border: 1.5px solid var(--ink);
  border-left-width: 6px;
}

.groups {
  display: flex;
  flex-wrap: wrap;
}

.find {
  flex: 1 1 84px;
  min-width: 0;
  max-width: 200px;
}

.entries {
  list-style: none;
  margin: 6px 0 10px;
  padding: 0;
}

.entries li {
  display: grid;
  grid-template-columns: 104px 28px minmax(0, 1fr) auto;
  gap: 2px 12px;
  align-items: center;
  min-height: 54px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}

.number {
  text-align: right;
}

.what {
  overflow-wrap: anywhere;
}

.what .soft {
  font-size: 0.9688rem;
}

.sure {
  margin-top: 4px;
}

.does {
  display: flex;
  gap: 4px 12px;
}

.files {
  gap: 0 14px;
}

aside section {
  margin-bottom: 18px;
}

aside :deep(h3) {
  font-size: 1.1875rem;
}

@container main (max-width: 720px) {
  .entries li {
    grid-template-columns: auto 1fr auto;
  }

  .when {
    grid-row: 1;
  }

  .number {
    grid-row: 1;
    text-align: left;
  }

  .does {
    grid-row: 1;
    grid-column: 3;
  }

  .what {
    grid-column: 1 / -1;
  }
}
</style>
