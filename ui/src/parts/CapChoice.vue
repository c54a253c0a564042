<script setup lang="ts">
/** How to hold a motor back: three ways beside each other over the stick, and what each does. */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import { api, unreachable, type Problem, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { setting, typed } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import FigureTable from './FigureTable.vue'
import { nearest } from './plot'

const props = defineProps<{ output: string; control: string }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const caps = shallowRef<Schemas['Caps']>()
const problem = shallowRef<Problem>()
const most = shallowRef(60)
const side = shallowRef<'both' | 'plus' | 'minus'>('both')

let asked = 0
async function ask() {
  const id = bench.model?.id
  if (!id) return
  const own = ++asked
  const query = { output: props.output, control: props.control, side: side.value, most: most.value }
  const told = await api
    .GET('/api/models/{id}/feel/caps', { params: { path: { id }, query } })
    .catch(() => undefined)
  if (own !== asked) return
  problem.value = told ? told.error : unreachable
  if (told?.data) caps.value = told.data.caps
}
watch([() => props.output, () => props.control, () => bench.model, () => most.value, () => side.value], ask, {
  immediate: true,
})

function type(event: Event) {
  const v = typed((event.target as HTMLInputElement).value, '%')
  if (v === undefined)
    problem.value = { ...unreachable, title: 'This is no figure', detail: 'write one such as 60' }
  else most.value = v
}
async function take(way: 'rate' | 'end' | 'curve') {
  const outcome = await edits.act({
    act: 'feel',
    part: `outputs/${props.output}`,
    feel: { what: 'cap', control: props.control, way, side: side.value, most: most.value },
  })
  problem.value = outcome.kept ? undefined : outcome.problem
}

const size = { w: 240, h: 170, edge: 8 }
const x = (v: number) => size.edge + ((v + 100) / 200) * (size.w - 2 * size.edge)
const y = (v: number) => size.edge + ((100 - v) / 200) * (size.h - 2 * size.edge)
const path = (line: number[][]) =>
  line.map(([a, b], i) => `${i ? 'L' : 'M'}${x(a ?? 0)} ${y(Math.min(Math.max(b ?? 0, -100), 100))}`).join('')
const hand = computed(() => bench.view?.controls.find((c) => c.id === props.control))
const at = computed(() => (hand.value ? (bench.values[hand.value.value] ?? 0) : 0))
const joined = new Intl.ListFormat('en-GB')
</script>

<template>
  <section class="caps" aria-label="Holding it back">
    <h3>Too fast? Three ways to hold it back</h3>
    <p class="asks">
      <label
        >To <input class="box fig" inputmode="decimal" size="3" :value="setting(most)" @change="type" /> % of
        what it does now,</label
      >
      <label
        ><span class="unseen">to which side</span>
        <select v-model="side" class="box">
          <option v-for="one in caps?.sides ?? []" :key="one.key" :value="one.key">{{ one.label }}</option>
        </select></label
      >
    </p>
    <p v-if="caps && caps.moves.length > 1" class="soft">
      {{ joined.format(caps.moves) }} are held back together: they are driven together.
    </p>
    <p v-if="problem" class="fault">{{ problem.title }}. {{ problem.detail }}</p>
    <div v-if="caps" class="ways">
      <article v-for="way in caps.ways" :key="way.way" :data-cap="way.way">
        <h4>{{ way.title }}</h4>
        <svg :viewBox="`0 0 ${size.w} ${size.h}`" role="img" :aria-label="`${way.title}: ${way.does}`">
          <line :x1="x(-100)" :x2="x(100)" :y1="y(0)" :y2="y(0)" class="zero" />
          <line :x1="x(0)" :x2="x(0)" :y1="y(-100)" :y2="y(100)" class="zero" />
          <path :d="path(caps.line)" class="was" />
          <path :d="path(way.line)" class="line" />
          <circle :cx="x(at)" :cy="y(nearest(way.line, at)[1] ?? 0)" r="6" class="now" />
        </svg>
        <p>{{ way.does }}</p>
        <FigureTable :figures="way.figures" />
        <p v-if="way.cannot" class="soft">▲ {{ way.cannot }}</p>
        <Button class="quiet" @click="once($event, () => take(way.way))">{{
          `Hold it back by ${way.way}`
        }}</Button>
      </article>
    </div>
    <p class="soft">Across is {{ hand?.label }}, up is what the motor does. Dotted: as it is now.</p>
  </section>
</template>

<style scoped>
.caps {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}

h3,
h4 {
  margin: 0 0 4px;
}

.asks {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}

.ways {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 22px;
}

@container main (max-width: 760px) {
  .ways {
    grid-template-columns: minmax(0, 1fr);
  }
}

.ways p {
  margin: 4px 0;
}

svg {
  width: 100%;
  max-width: 320px;
  background: var(--sheet);
}

.zero {
  stroke: var(--rule);
}

.was {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.5;
  stroke-dasharray: 3 4;
}

.line {
  fill: none;
  stroke: var(--petrol);
  stroke-width: 3;
}

.now {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 1.5;
}

article :deep(.figures) th,
article :deep(.figures) td {
  display: block;
  width: auto;
  border: 0;
  padding: 0;
}

article :deep(.figures) tr {
  display: block;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

article :deep(.figures) th {
  color: var(--soft);
}
</style>
