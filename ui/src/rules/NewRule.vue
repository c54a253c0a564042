<script setup lang="ts">
/** A rule that is to be: what it should do, chosen from a list, then its places, one after the other. */
import Button from 'primevue/button'
import { computed, nextTick, onMounted, shallowRef, useTemplateRef } from 'vue'

import { api, unreachable, type Problem, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import ProblemText from '../parts/ProblemText.vue'
import { useEdits } from '../stores/edits'
import PlaceEditor from './PlaceEditor.vue'
import type { Lists, Values } from './places'
import RuleSentence from './RuleSentence.vue'

const props = defineProps<{ id: string; kinds: Schemas['RuleKind'][]; lists: Lists }>()
const emit = defineEmits<{ done: [key: string]; leave: [] }>()
const edits = useEdits()
const { once } = useOnce()
const kind = shallowRef<Schemas['RuleKind']>()
const values = shallowRef<Values>({})
const open = shallowRef('')
const problem = shallowRef<Problem>()
const panel = useTemplateRef<HTMLElement>('panel')
onMounted(() => panel.value?.scrollIntoView({ block: 'nearest' }))
const place = computed(() => kind.value?.places.find((one) => one.key === open.value))

/** The first place that has to be filled and is not. */
const next = () =>
  kind.value?.places.find((one) => !one.optional && !(values.value[one.key] ?? []).some(Boolean))?.key ?? ''

async function choose(of: Schemas['RuleKind']) {
  kind.value = of
  values.value = Object.fromEntries(of.places.map((one) => [one.key, one.values]))
  problem.value = undefined
  open.value = next()
  await nextTick()
  panel.value?.scrollIntoView({ block: 'nearest' })
}
let asked = 0
async function fill(change: Values) {
  const before = values.value
  values.value = { ...before, ...change }
  problem.value = undefined
  const own = ++asked
  const answer = await api
    .POST('/api/models/{id}/rules/say', {
      params: { path: { id: props.id } },
      body: { kind: kind.value?.kind ?? '', was: '', values: values.value },
    })
    .catch(() => ({ data: undefined, error: unreachable }))
  if (own !== asked) return
  if (answer.data) kind.value = answer.data
  else problem.value = answer.error
  // a place that takes one answer is done with it: the next one opens
  const filled = place.value
  if (filled && !['truths', 'many', 'positions', 'rows'].includes(filled.kind) && next()) open.value = next()
}
async function write() {
  const outcome = await edits.act({
    act: 'rule',
    rule: { kind: kind.value?.kind ?? '', was: '', values: values.value },
  })
  if (outcome.kept) return emit('done', outcome.part ?? '')
  problem.value = outcome.problem
  const missing = outcome.problem.errors?.[0]?.path.split('.').at(-1) ?? ''
  if (kind.value?.places.some((one) => one.key === missing)) open.value = missing
}
const needs = computed(() => kind.value?.places.filter((one) => !one.optional).map((one) => one.key) ?? [])
/** What has no words in the sentence is asked beside it. */
const beside = computed(() =>
  (kind.value?.places ?? []).filter((one) => ['called', 'moves'].includes(one.key)),
)
</script>

<template>
  <section ref="panel" class="new" aria-label="A new rule">
    <template v-if="!kind">
      <header>
        <h4>What should it do?</h4>
        <Button class="quiet" @click="emit('leave')">Not now</Button>
      </header>
      <ul class="kinds">
        <li v-for="one in kinds" :key="one.kind">
          <button type="button" :data-kind="one.kind" @click="choose(one)">
            <b>{{ one.title }}</b>
            <span class="label">{{ one.example }}</span>
          </button>
        </li>
      </ul>
    </template>
    <form v-else :data-new="kind.kind" @submit.prevent="once($event, write)">
      <h4>{{ kind.title }}</h4>
      <RuleSentence
        :says="kind.says"
        :open="open"
        :needs="needs"
        @pick="open = open === $event ? '' : $event"
      />
      <p class="acts">
        <Button
          v-for="one in beside"
          :key="one.key"
          class="quiet"
          :data-fill="one.key"
          :aria-expanded="open === one.key"
          @click="open = open === one.key ? '' : one.key"
          >{{ one.label }}</Button
        >
      </p>
      <PlaceEditor
        v-if="place"
        :key="place.key"
        class="filler"
        :place="place"
        :places="kind.places"
        :lists="lists"
        :values="values"
        @change="fill"
      />
      <ProblemText :problem="problem" />
      <p class="acts">
        <Button type="submit">Write it</Button>
        <Button class="quiet" @click="kind = undefined">Something else</Button>
        <Button class="quiet" @click="emit('leave')">Leave it</Button>
      </p>
    </form>
  </section>
</template>

<style scoped>
.new {
  margin: 6px 0 12px;
  padding: 10px 14px;
  border: 1.5px solid var(--petrol);
  border-left-width: 5px;
  background: var(--sheet);
}

header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

h4 {
  margin: 0 0 4px;
  font-size: 1.0625rem;
}

.kinds {
  margin: 0;
  padding: 0;
  list-style: none;
}

.kinds li {
  border-bottom: 1px solid var(--rule);
}

.kinds button {
  display: grid;
  width: 100%;
  min-height: 44px;
  padding: 5px 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.kinds button:hover b {
  text-decoration: underline;
}

.filler {
  margin: 6px 0;
  padding: 8px 12px 10px;
  border: 1px solid var(--rule);
  border-left: 3px solid var(--petrol);
  background: var(--ground);
}
</style>
