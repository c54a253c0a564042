<script setup lang="ts">
/** One function on the stand: one step at a time, large; each is kept with how it was found. */
import Button from 'primevue/button'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import {
  unreachable,
  type Act,
  type Field,
  type LinkageReport,
  type Problem,
  type Standing,
} from '../api/client'
import { setting, typed } from '../figures'
import { useOnce } from '../composables/useOnce'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const props = defineProps<{ standing: Standing; fields: Field[]; report?: LinkageReport }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const problem = shallowRef<Problem>()
const chosen = shallowRef<string>()
/** The step that is open: the one that was chosen, else the first that is not done. */
const step = computed(
  () =>
    props.standing.steps.find((one) => one.key === chosen.value) ??
    props.standing.steps.find((one) => !one.done) ??
    props.standing.steps.at(-1),
)
/** Where the centre or the end is moved to, while watching. */
const value = shallowRef(0)
watch(
  [() => props.standing.output, () => step.value?.key, () => step.value?.value],
  () => {
    edits.drop() // what was tried at another step
    value.value = step.value?.value ?? 0
  },
  { immediate: true },
)
onBeforeUnmount(() => edits.drop())
watch(
  () => props.standing.output,
  () => {
    chosen.value = undefined
    problem.value = undefined
  },
)
/** What keeps a line is put in by the centre. */
const field = computed(() => {
  const name = step.value?.key === 'straight' ? 'centre' : step.value?.key
  return props.fields.find((one) => one.name === name)
})
const isEnd = computed(() => step.value?.key === 'low' || step.value?.key === 'high')

function move(by: number) {
  value.value = Math.min(Math.max(Math.round((value.value + by) * 10) / 10, -150), 150)
  if (field.value) edits.attempt(field.value, value.value)
}
async function keep(act: Partial<Act>, goOn = true) {
  const of = act.of ?? step.value?.key
  edits.drop()
  const outcome = await edits.act({ act: 'stand', part: `outputs/${props.standing.output}`, ...act, of })
  problem.value = outcome.kept ? undefined : outcome.problem
  if (!outcome.kept || !goOn) return
  const at = props.standing.steps.findIndex((one) => one.key === of)
  chosen.value = props.standing.steps[at + 1]?.key ?? chosen.value
}
async function setBack(event: Event) {
  const input = event.target as HTMLInputElement
  const back = typed(input.value)
  if (back === undefined) {
    problem.value = { ...unreachable, title: 'This is no figure', detail: 'write one such as 2' }
    return
  }
  await keep({ of: 'back_off', value: back }, false)
}
/** While an end is moved, what it then is on this transmitter: the joint of the ends says it. */
const trying = computed(() => {
  if (!isEnd.value || value.value === step.value?.value) return undefined
  const key = `out/${props.standing.output}/ends`
  for (const block of bench.view?.blocks ?? [])
    for (const row of block.rows)
      for (const joint of row.joints)
        if (joint.key === key && joint.editor?.note) return `While it is tried, ${joint.editor.note}.`
  return undefined
})
const wish = computed(() => (step.value?.key === 'low' ? props.report?.wish_low : props.report?.wish_high))
const mild = computed(() => props.standing.mild[step.value?.key === 'low' ? 0 : 1] ?? 0)
</script>

<template>
  <div v-if="step" class="steps">
    <ol class="bar" aria-label="Steps">
      <li v-for="one in standing.steps" :key="one.key">
        <button
          type="button"
          class="step"
          :aria-current="one.key === step.key ? 'step' : undefined"
          :data-step="one.key"
          @click="chosen = one.key"
        >
          {{ one.title }}
          <span v-if="one.stale" aria-hidden="true">▲</span
          ><span v-else-if="one.done" aria-hidden="true">✓</span
          ><span v-if="one.stale" class="unseen"> to be done again</span
          ><span v-else-if="one.done" class="unseen"> done</span>
        </button>
      </li>
    </ol>
    <p v-if="standing.again" class="again">{{ standing.again }}</p>
    <h3 class="does">{{ step.does }}</h3>
    <div v-if="step.moves" class="moving">
      <Button class="quiet" aria-label="− 5" @click="move(-5)">−5</Button>
      <Button class="quiet big" aria-label="− 1" @click="move(-1)">−</Button>
      <output class="fig value" aria-live="polite">{{ setting(value) }}</output>
      <Button class="quiet big" aria-label="+ 1" @click="move(1)">+</Button>
      <Button class="quiet" aria-label="+ 5" @click="move(5)">+5</Button>
    </div>
    <p class="acts">
      <template v-if="step.key === 'direction'">
        <Button @click="once($event, () => keep({}))">Yes, the right way</Button>
        <Button class="quiet" @click="once($event, () => keep({ value: 'other' }))">No: turn it round</Button>
      </template>
      <Button v-else-if="step.key === 'centre'" @click="once($event, () => keep({ value }))"
        >It stands in the middle</Button
      >
      <template v-else-if="step.key === 'straight'">
        <Button @click="once($event, () => keep({ value }))">It keeps its line</Button>
        <Button class="quiet" @click="once($event, () => keep({ to: 'link' }))"
          >I put it in at the link</Button
        >
      </template>
      <template v-else-if="step.moves">
        <Button @click="once($event, () => keep({ value }))">It binds here</Button>
        <Button
          v-if="!step.done"
          class="quiet"
          @click="once($event, () => keep({ value: mild, to: 'guessed' }))"
          >Not known yet: begin at {{ setting(mild) }}</Button
        >
        <Button
          v-if="wish !== undefined"
          class="quiet"
          @click="once($event, () => keep({ value: wish, to: 'linkage' }))"
          >As the linkage says: {{ setting(wish) }}</Button
        >
      </template>
      <Button v-else @click="once($event, () => keep({}))">{{
        step.key === 'learned' ? 'It has learned what is sent' : 'Done'
      }}</Button>
    </p>
    <p v-if="problem" class="fault">{{ problem.title }}. {{ problem.detail }}</p>
    <p v-if="isEnd" class="back">
      <label
        >An end that binds is set back by
        <input
          class="box fig"
          inputmode="decimal"
          size="3"
          :value="setting(standing.back_off)"
          @change="setBack"
      /></label>
    </p>
    <p class="soft">{{ trying ?? step.note }}</p>
    <p v-if="step.found" class="soft">
      {{ step.stale ? `To be done again: ${step.stale}.` : `Found: ${step.found}.` }}
    </p>
    <p v-if="isEnd" class="caution">
      Fingers out of the linkage while it moves. A servo that hums at its stop gets hot.
    </p>
    <p v-if="standing.even && step.key !== 'ready'" class="acts">
      <span>{{ standing.even }}</span>
      <Button class="quiet" @click="once($event, () => keep({ of: 'even' }, false))">Make both equal</Button>
    </p>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.step {
  min-height: 40px;
  padding: 2px 5px;
  background: none;
  color: var(--ink);
  border: 0;
  border-bottom: 3px solid var(--rule);
  font: inherit;
  font-size: 0.9375rem;
  cursor: pointer;
}

.step[aria-current] {
  border-color: var(--petrol);
  font-weight: 700;
}

.does {
  margin: 14px 0;
  font-size: 1.625rem;
  line-height: 1.25;
}

.moving {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}

.big {
  min-width: 64px;
  min-height: 56px;
  font-size: 1.5rem;
}

.value {
  min-width: 110px;
  font-size: 2.5rem;
  font-weight: 700;
  text-align: center;
}

.steps > .acts {
  margin: 12px 0;
}

.back {
  margin: 6px 0;
}

.again {
  margin: 8px 0 0;
  font-weight: 700;
}

.caution {
  padding: 8px 14px;
  border: 1px solid var(--danger);
  border-left-width: 8px;
}

@media (width < 560px) {
  .moving {
    gap: 6px;
  }

  .moving .big {
    min-width: 48px;
  }

  .value {
    min-width: 84px;
    font-size: 1.75rem;
  }
}
</style>
