<script setup lang="ts">
/** What one function is to do on a lost signal: the question, what is usual and why, scales, keeping it. */
import Button from 'primevue/button'
import { computed, shallowRef } from 'vue'

import { api, unreachable, type Line, type Problem, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { setting, typed } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const props = defineProps<{ id: string; line: Line; asked: Schemas['LossAsked']; says?: string[] }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const problem = shallowRef<Problem>()
const reading = shallowRef('')
const figure = shallowRef('')
/** The scale in which the figure is typed: at first that of this transmitter. */
const scale = shallowRef(props.asked.scales.find((one) => one.own)?.key ?? 'percent')
const scales = computed(() =>
  props.asked.scales.length
    ? props.asked.scales
    : [
        { key: 'percent' as const, scale: '−100 to +100' },
        { key: 'span' as const, scale: '0 to 100, centre 50' },
        { key: 'us' as const, scale: 'µs' },
      ],
)

/** Where it stands now, as it would be kept. */
const now = computed(() => Math.round(10 * (bench.values[props.line.p] ?? 0)) / 10)
const held = shallowRef<Schemas['HoldTold']>()

const noFigure = { ...unreachable, title: 'This is no figure', detail: 'write one such as −50' }

/** Says where it goes: in percent, or in another scale. */
async function goesTo(value: number | undefined, to = 'percent') {
  if (value === undefined) {
    problem.value = noFigure
    return
  }
  const outcome = await edits.act({ act: 'stand', part: `outputs/${props.line.id}`, of: 'keep', value, to })
  problem.value = outcome.kept ? undefined : outcome.problem
  if (outcome.kept) figure.value = ''
}

async function store() {
  const value = typed(reading.value)
  if (value === undefined) {
    problem.value = noFigure
    return
  }
  const outcome = await edits.act({ act: 'stand', part: `outputs/${props.line.id}`, of: 'loss', value })
  problem.value = outcome.kept ? undefined : outcome.problem
  if (outcome.kept) reading.value = ''
}

async function howToHold(receiver: string) {
  const answer = await api.GET('/api/models/{id}/hold', {
    params: { path: { id: props.id }, query: { receiver } },
  })
  held.value = answer.data
  problem.value = answer.error
}
</script>

<template>
  <div class="asked" :data-asked="line.id">
    <p class="question">{{ asked.question }}</p>
    <ul class="ways">
      <li v-for="way in asked.ways" :key="way.says">
        <Button
          class="quiet"
          :aria-pressed="way.now"
          :disabled="way.now"
          @click="once($event, () => edits.keep(way.patch))"
          >{{ way.now ? '✓ ' : '' }}{{ way.says }}</Button
        >
        <span class="soft">{{ way.why }}<template v-if="way.unusual"> — not the usual way</template>.</span>
      </li>
      <li>
        <Button class="quiet" @click="once($event, () => goesTo(now))"
          >Keep it as it stands: {{ setting(now) }}</Button
        >
        <span class="soft">move it there with its lever, look at the model, and press.</span>
      </li>
      <li>
        <form class="read" @submit.prevent="once($event, () => goesTo(typed(figure), scale))">
          <label :for="`figure-${line.id}`">Or type a figure:</label>
          <input :id="`figure-${line.id}`" v-model="figure" class="box fig" inputmode="text" size="6" />
          <label :for="`scale-${line.id}`">on the scale</label>
          <select :id="`scale-${line.id}`" v-model="scale" class="box">
            <option v-for="one in scales" :key="one.key" :value="one.key">{{ one.scale }}</option>
          </select>
          <Button class="quiet" type="submit" :disabled="!figure.trim()">Let it go there</Button>
        </form>
      </li>
    </ul>
    <p v-if="asked.scales.length" class="scales">
      <template v-for="(one, i) in asked.scales" :key="one.scale"
        ><template v-if="i"> · </template
        ><span :class="{ own: one.own }"
          ><b class="fig">{{ one.text }}</b> {{ one.scale }}</span
        ></template
      >
    </p>
    <p v-for="one in says" :key="one" class="then">{{ one }}</p>
    <p class="soft">{{ [...asked.can, asked.kept, asked.stored].filter(Boolean).join(' ') }}</p>
    <div v-if="asked.stores.length" class="hold">
      <Button
        v-for="one in asked.stores"
        :key="one.receiver"
        class="quiet"
        @click="once($event, () => howToHold(one.receiver))"
        >How are the sticks held for {{ one.label }}?</Button
      >
      <ol v-if="held">
        <li v-for="step in held.lines" :key="step">{{ step }}</li>
      </ol>
    </div>
    <form v-if="asked.scales.length" class="read" @submit.prevent="once($event, store)">
      <label :for="`read-${line.id}`">Stored? Read it back: where does it go, in percent?</label>
      <input :id="`read-${line.id}`" v-model="reading" class="box fig" inputmode="decimal" size="6" />
      <Button class="quiet" type="submit" :disabled="!reading.trim()">Note it</Button>
    </form>
    <p v-if="problem" class="fault" role="alert">{{ problem.detail ?? problem.title }}</p>
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  gap: 6px;
  padding: 4px 0 14px 14px;
  border-left: 3px solid var(--petrol);
  margin: 2px 0 10px;
}

p {
  margin: 0;
}

.question {
  font-weight: 700;
}

.ways {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}

.ways li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
}

.own {
  border-bottom: 2px solid var(--petrol);
}

.read,
.hold {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
</style>
