<script setup lang="ts">
/** One rule, open: its sentence to be filled, its states, and what it is written in. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { computed, defineAsyncComponent, shallowRef, watch } from 'vue'

import type { Problem, Schemas } from '../api/client'
import { neighbourOf } from '../composables/useNeighbour'
import { useOnce } from '../composables/useOnce'
import PartForm from '../parts/PartForm.vue'
import ProblemText from '../parts/ProblemText.vue'
import SameOrNot from '../parts/SameOrNot.vue'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import PlaceEditor from './PlaceEditor.vue'
import type { Lists, Values } from './places'
import RuleSentence from './RuleSentence.vue'

const StatesDrawing = defineAsyncComponent(() => import('./StatesDrawing.vue'))

const props = defineProps<{
  rule: Schemas['RuleSaid']
  /** All rules of the model. */
  rules: Schemas['RuleSaid'][]
  lists: Lists
  /** The part of it that something pointed at. */
  pointed?: string
}>()
const emit = defineEmits<{ gone: [] }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const problem = shallowRef<Problem>()
const open = shallowRef('')
const blocks = shallowRef(false)
const part = shallowRef('')
/** The id of what a rule is on or off by; of others there is none. */
const block = (key: string) => (key.startsWith('logic/') ? key.slice('logic/'.length) : '')
/** The rules that it can be compared with. */
const others = computed(() =>
  block(props.rule.key) ? props.rules.filter((one) => block(one.key) && one.key !== props.rule.key) : [],
)
const comparing = shallowRef(false)
const other = shallowRef('')
watch(
  [() => props.rule.key, () => props.pointed],
  () => {
    open.value = ''
    problem.value = undefined
    comparing.value = false
    other.value = ''
    const own = props.rule.parts.some((one) => one.key === props.pointed)
    blocks.value = own && props.pointed !== props.rule.key
    part.value = blocks.value ? (props.pointed ?? '') : ''
  },
  { immediate: true },
)
const values = computed<Values>(() =>
  Object.fromEntries(props.rule.places.map((place) => [place.key, place.values])),
)
/** What was chosen and could not be kept yet stays chosen while it is asked what is missing. */
const wanted = shallowRef<Values>({})
watch(
  () => props.rule,
  () => (wanted.value = {}),
)
const filled = computed(() => ({ ...values.value, ...wanted.value }))
const needs = computed(() => props.rule.places.filter((one) => !one.optional).map((one) => one.key))
const place = computed(() => props.rule.places.find((one) => one.key === open.value))

async function keep(change: Values) {
  wanted.value = { ...wanted.value, ...change }
  const outcome = await edits.act({
    act: 'rule',
    rule: { kind: props.rule.kind, was: props.rule.key, values: filled.value },
  })
  if (outcome.kept || outcome.problem.status === 409) {
    problem.value = undefined
    wanted.value = {}
    return
  }
  problem.value = outcome.problem
  const missing = outcome.problem.errors?.[0]?.path.split('.').at(-1) ?? ''
  if (props.rule.places.some((one) => one.key === missing)) open.value = missing
}

/** What uses the rule, while it is asked whether to take that along. */
const uses = shallowRef<Problem>()
async function remove(along: boolean) {
  uses.value = undefined
  const goOn = neighbourOf(props.rule.key)
  const outcome = await edits.act({ act: 'unrule', of: props.rule.key, along })
  if (outcome.kept) {
    emit('gone')
    return goOn()
  }
  edits.drop()
  if (outcome.problem.errors && !along) uses.value = outcome.problem
  else problem.value = outcome.problem
}
function toBlocks() {
  blocks.value = !blocks.value
  part.value = ''
}
</script>

<template>
  <div class="card" :data-rule="rule.key">
    <RuleSentence
      :says="rule.says"
      :open="open"
      :needs="needs"
      @pick="open = open === $event ? '' : $event"
    />
    <PlaceEditor
      v-if="place"
      class="filler"
      :place="place"
      :places="rule.places"
      :lists="lists"
      :values="filled"
      @change="keep"
    />
    <ProblemText :problem="problem" />
    <p v-if="rule.home" class="soft">
      <RouterLink class="link" :to="{ name: rule.home, params: { id: bench.model?.id ?? '' } }"
        >It is changed in Mixing.</RouterLink
      >
    </p>
    <StatesDrawing v-if="rule.states" :rule="rule.key" :title="rule.title" />
    <p class="acts">
      <Button class="quiet" :aria-expanded="blocks" @click="toBlocks">As blocks</Button>
      <Button
        v-for="one in rule.places.filter((p) => ['called', 'moves'].includes(p.key))"
        :key="one.key"
        class="quiet"
        :data-fill="one.key"
        :aria-expanded="open === one.key"
        @click="open = open === one.key ? '' : one.key"
        >{{ one.label }}</Button
      >
      <Button v-if="others.length" class="quiet" :aria-expanded="comparing" @click="comparing = !comparing"
        >Does another do the same?</Button
      >
      <Button v-if="!rule.home" class="quiet" @click="once($event, () => remove(false))">Remove it</Button>
    </p>
    <div v-if="comparing && others.length">
      <label class="label"
        >Beside
        <select v-model="other" class="box" data-compare>
          <option value="">choose a rule</option>
          <option v-for="one in others" :key="one.key" :value="block(one.key)">{{ one.title }}</option>
        </select></label
      >
      <SameOrNot v-if="other" :id="bench.model?.id ?? ''" :rule="block(rule.key)" :with-rule="other" />
    </div>
    <ul v-if="blocks" class="blocks" aria-label="What it is written in">
      <li v-for="one in rule.parts" :key="one.key">
        <button
          type="button"
          class="link"
          :aria-expanded="part === one.key"
          @click="part = part === one.key ? '' : one.key"
        >
          {{ one.says }}
        </button>
        <PartForm v-if="part === one.key" :part="one.key" @gone="part = ''" @renamed="part = $event" />
      </li>
    </ul>
    <Dialog
      :visible="uses !== undefined"
      modal
      :header="`${rule.title} is in use`"
      :style="{ width: 'min(600px, 94vw)' }"
      @update:visible="uses = undefined"
    >
      <ul>
        <li v-for="fault in uses?.errors" :key="fault.path">{{ fault.message.replace(/ uses .*/, '') }}</li>
      </ul>
      <p>These cannot be without it.</p>
      <div class="acts">
        <Button @click="remove(true)">Remove them too</Button>
        <Button class="quiet" @click="uses = undefined">Leave everything as it is</Button>
      </div>
    </Dialog>
  </div>
</template>

<style scoped>
.filler {
  margin: 6px 0;
  padding: 8px 12px 10px;
  border: 1px solid var(--rule);
  border-left: 3px solid var(--petrol);
  background: var(--ground);
}

.blocks {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}

.blocks .link {
  text-align: left;
}

.acts {
  margin: 6px 0;
}
</style>
