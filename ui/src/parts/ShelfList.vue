<script setup lang="ts">
/** How the parts of a model stand to the pieces of the shelf: what changed there since, what is offered. */
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import {
  api,
  origin,
  unreachable,
  type OnShelf,
  type PieceCopy,
  type Problem,
  type ShelfAct,
  type ShelfPiece,
} from '../api/client'
import { onDemand } from '../composables/onDemand'
import { useOnce } from '../composables/useOnce'
import { capital } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const ShelfDialog = onDemand(() => import('./ShelfDialog.vue'))
const props = defineProps<{ id: string }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const on = shallowRef<OnShelf>()
const problem = shallowRef<Problem>()
/** Whether what is shown is of the model as it is now; else it is not to be pressed. */
const current = computed(() => on.value?.revision === bench.model?.revision)
const by = (...states: PieceCopy['state'][]) =>
  computed(() => on.value?.copies.filter((c) => states.includes(c.state)) ?? [])
const changed = by('changed')
const same = by('same')
const lost = by('unknown', 'removed')
const none = by('none')
/** What is on no shelf is asked for: a model has many small parts. */
const all = shallowRef(false)
let asking: AbortController | undefined

async function ask() {
  asking?.abort()
  const own = (asking = new AbortController())
  const answer = await api
    .GET('/api/models/{id}/shelf', { params: { path: { id: props.id } }, signal: own.signal })
    .catch(() => ({ data: undefined, error: unreachable }))
  if (own.signal.aborted) return
  problem.value = answer.error
  on.value = answer.data ?? on.value
}
watch(() => bench.model?.revision, ask, { immediate: true })
useEventListener('focus', ask) // the shelf may have been changed on another page
onBeforeUnmount(() => asking?.abort())

async function act(what: ShelfAct) {
  const outcome = await edits.shelve(what)
  problem.value = outcome.kept ? undefined : outcome.problem
  if (outcome.kept) await ask() // what the shelf knew may be new though the model is as it was
}

/** The piece learns what this model's copy has. */
async function note(copy: PieceCopy) {
  if (!copy.piece || !copy.of) return
  const answer = await api
    .POST('/api/shelf/{id}/note', {
      params: { path: { id: copy.piece }, header: { ...origin(), 'If-Match': `"${copy.of}"` } },
      body: { model: props.id, part: copy.part },
    })
    .catch(() => ({ error: unreachable }))
  await ask()
  problem.value = answer.error
}

/** The part of which the piece is chosen. */
const choosing = shallowRef<PieceCopy>()
const chooses = computed({
  get: () => choosing.value !== undefined,
  set: (now) => now || (choosing.value = undefined),
})

async function choose(piece: ShelfPiece) {
  const part = choosing.value?.part
  choosing.value = undefined
  if (part) await act({ act: 'from', part, piece: piece.id })
}

const day = (at?: string) =>
  at ? new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' }) : ''
</script>

<template>
  <section class="shelf" :aria-busy="!current">
    <h3 class="finds">Your shelf</h3>
    <p v-if="on || !problem" class="soft">
      <RouterLink to="/shelf">{{ on ? capital(on.says) : 'Looking at your shelf' }}</RouterLink>
    </p>
    <ul v-if="on" class="found">
      <li v-if="on.memory" data-memory>
        <span class="mark" aria-hidden="true">!</span>
        <p>
          {{ on.memory }}. <span class="soft">To do: give one of them a memory of its own.</span> {{ ' '
          }}<RouterLink class="go" to="/memories">see all memories</RouterLink>
        </p>
      </li>
      <li v-for="copy in changed" :key="copy.part" :data-copy="copy.part">
        <span class="mark" aria-hidden="true">▲</span>
        <div>
          <p>
            <RouterLink :to="{ name: 'shelf', params: { piece: copy.piece } }">{{ copy.called }}</RouterLink>
            <template v-if="copy.refused"> cannot be taken over: {{ copy.refused }}.</template>
            <template v-else>
              has changed on your shelf<template v-if="copy.changed_at"
                >, noted {{ day(copy.changed_at) }}</template
              >:</template
            >
          </p>
          <p v-for="said in copy.takes" :key="said" class="soft">{{ said }}</p>
          <p v-if="copy.crowded" class="fault">{{ copy.crowded }}.</p>
          <p>
            <button
              v-if="!copy.refused"
              type="button"
              class="link"
              :disabled="!current"
              :aria-label="`take it over: ${copy.called}`"
              @click="once($event, () => act({ act: 'take_over', part: copy.part, of: copy.of }))"
            >
              take it over
            </button>
            <button
              type="button"
              class="link"
              :disabled="!current"
              :aria-label="`leave it as it is here: ${copy.called}`"
              @click="once($event, () => act({ act: 'leave', part: copy.part, of: copy.of }))"
            >
              leave it as it is here
            </button>
          </p>
        </div>
      </li>
      <li v-for="copy in lost" :key="copy.part" :data-copy="copy.part">
        <span class="mark" aria-hidden="true">·</span>
        <p>
          {{ capital(copy.label) }}
          {{
            copy.state === 'removed' ? 'was taken off your shelf' : 'is of a piece that is not on your shelf'
          }}.
          <button
            type="button"
            class="link"
            :disabled="!current"
            :aria-label="`${copy.state === 'removed' ? 'put it back' : 'put it there'}: ${copy.label}`"
            @click="once($event, () => act({ act: 'put', part: copy.part }))"
          >
            {{ copy.state === 'removed' ? 'put it back' : 'put it there' }}
          </button>
          <button
            type="button"
            class="link"
            :disabled="!current"
            :aria-label="`it is another one: ${copy.label}`"
            @click="choosing = copy"
          >
            it is another one
          </button>
        </p>
      </li>
    </ul>
    <div v-for="copy in same" :key="copy.part" class="same" :data-copy="copy.part">
      <p>
        <RouterLink :to="{ name: 'shelf', params: { piece: copy.piece } }">{{
          capital(copy.called ?? '')
        }}</RouterLink>: {{ copy.places }}
      </p>
      <p v-if="copy.crowded" class="fault">{{ copy.crowded }}.</p>
      <template v-if="copy.tells.length">
        <p class="soft">Here it is otherwise:</p>
        <p v-for="said in copy.tells" :key="said" class="soft">{{ said }}</p>
        <button
          type="button"
          class="link"
          :disabled="!current"
          :aria-label="`note it on the shelf: ${copy.called}`"
          @click="once($event, () => note(copy))"
        >
          note it on the shelf
        </button>
      </template>
    </div>
    <p v-if="none.length && !all">
      <button type="button" class="link" @click="all = true">
        {{ none.length === 1 ? '1 part is' : `${none.length} parts are` }} not on your shelf
      </button>
    </p>
    <ul v-if="all" class="none">
      <li v-for="copy in none" :key="copy.part" :data-copy="copy.part">
        <span>{{ capital(copy.label) }}</span>
        <button
          type="button"
          class="link"
          :disabled="!current"
          :aria-label="`put it there: ${copy.label}`"
          @click="once($event, () => act({ act: 'put', part: copy.part }))"
        >
          put it there
        </button>
        <button
          type="button"
          class="link"
          :disabled="!current"
          :aria-label="`it is one of the shelf: ${copy.label}`"
          @click="choosing = copy"
        >
          it is one of the shelf
        </button>
      </li>
    </ul>
    <p v-if="problem" class="fault" role="alert">
      {{ problem.title }}{{ problem.detail ? `: ${problem.detail}` : '' }}.
      <button type="button" class="link" @click="ask">Ask again</button>
    </p>
    <ShelfDialog
      v-model:visible="chooses"
      :header="`Which one is ${choosing?.label ?? ''}?`"
      :kind="choosing?.kind"
      :device="choosing?.device"
      @choose="choose"
    />
  </section>
</template>

<style scoped>
p {
  margin: 0;
}

.shelf {
  margin-bottom: 14px;
}

.shelf p button {
  display: inline;
  min-height: 24px;
  margin-right: 14px;
  padding: 0;
}

.same {
  padding: 3px 0;
}

.same button {
  min-height: 24px;
  padding: 0;
}

.none {
  list-style: none;
  margin: 0;
  padding: 0;
}

.none li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 18px;
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
}

.none span {
  flex-basis: 100%;
}

.none button {
  min-height: 28px;
  padding: 0;
}
</style>
