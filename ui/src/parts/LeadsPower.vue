<script setup lang="ts">
/** The leads as a drawing, who feeds whom, and the power of each receiver, each figure with its why. */
import Button from 'primevue/button'
import { onBeforeUnmount, shallowRef, watch } from 'vue'

import { api, unreachable, type Leads, type Problem } from '../api/client'
import { useBench } from '../stores/bench'
import PartForm from './PartForm.vue'

const props = defineProps<{ id: string }>()
const bench = useBench()
const leads = shallowRef<Leads>()
const problem = shallowRef<Problem>()
const asked = shallowRef<string>()
const telling = shallowRef(false)
let control: AbortController | undefined

async function ask() {
  control?.abort()
  const own = (control = new AbortController())
  const answer = await api
    .GET('/api/models/{id}/leads', { params: { path: { id: props.id } }, signal: own.signal })
    .catch(() => ({ data: undefined, error: unreachable }))
  if (own.signal.aborted) return
  problem.value = answer.error
  leads.value = answer.data ?? leads.value
}
watch(
  () => [props.id, bench.model?.revision],
  ([, now]) => void (now && ask()),
  { immediate: true },
)
onBeforeUnmount(() => control?.abort())

const figure = (v: number) => (Number.isInteger(v) ? v.toString() : v.toFixed(v < 10 ? 2 : 1))
/** A text as it fits into a box. */
const short = (text: string, wide: number) => {
  const most = Math.floor((wide - 12) / 6.6)
  return text.length > most ? `${text.slice(0, most - 1)}…` : text
}
const toggle = (key: string) => (asked.value = asked.value === key ? undefined : key)
</script>

<template>
  <section>
    <header>
      <h3>Leads and power</h3>
      <Button class="quiet" :aria-expanded="telling" data-wiring @click="telling = !telling"
        >Feeds and leads</Button
      >
    </header>
    <PartForm v-if="telling" part="wiring" />
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}.</p>
    <template v-if="leads">
      <svg
        v-if="leads.drawing.boxes.length"
        :viewBox="`0 0 ${leads.drawing.width} ${leads.drawing.height}`"
        role="img"
        aria-label="The leads: who feeds whom"
      >
        <g v-for="(box, i) in leads.drawing.boxes" :key="`b${i}`" :class="box.kind">
          <rect :x="box.at[0]" :y="box.at[1]" :width="box.at[2]" :height="box.at[3]" rx="3" />
          <text
            v-for="(text, n) in box.lines"
            :key="n"
            :class="{ second: n }"
            :x="box.at[0]! + 7"
            :y="box.at[1]! + 15 + 15 * n"
          >
            <title>{{ text }}</title>
            {{ short(text, box.at[2]!) }}
          </text>
        </g>
        <g v-for="(line, i) in leads.drawing.lines" :key="`l${i}`" :class="line.kind">
          <title>{{ line.says }}</title>
          <line :x1="line.at[0]" :y1="line.at[1]" :x2="line.at[2]" :y2="line.at[3]" />
          <text v-if="line.pin" :x="line.at[0]! - 7" :y="line.at[1]! + 4" text-anchor="end">
            {{ line.pin }}
          </text>
          <path
            v-if="line.lifted"
            class="lifted"
            :d="`M ${(line.at[0]! + line.at[2]!) / 2 - 6} ${line.at[1]! - 6} l 12 12 m 0 -12 l -12 12`"
          />
        </g>
      </svg>
      <p class="label key">
        A thick line brings power. A lead carries signal, power and ground; × on it: its red wire is lifted.
      </p>
      <div v-for="power in leads.power" :key="power.part" :data-power="power.part">
        <h4 v-if="leads.power.length > 1">{{ power.receiver }}</h4>
        <dl v-if="power.figures.length">
          <template v-for="one in power.figures" :key="one.label">
            <dt>{{ one.label }}</dt>
            <dd :class="{ bad: one.bad }">
              <b class="fig">{{ figure(one.value) }} {{ one.unit }}</b>
              <span v-if="one.says" class="soft">{{ one.says }}</span>
              <span v-if="one.bad" class="unseen">: too much or too little.</span>
              <button
                type="button"
                class="link"
                :aria-expanded="asked === `${power.part} ${one.label}`"
                :aria-label="`why? ${one.label}`"
                @click="toggle(`${power.part} ${one.label}`)"
              >
                why?
              </button>
              <p v-if="one.bad" class="do">To do: {{ one.do }}.</p>
              <p v-if="asked === `${power.part} ${one.label}`" class="soft arithmetic">{{ one.why }}.</p>
            </dd>
          </template>
        </dl>
        <p v-if="power.lacks" class="soft">{{ power.lacks }}</p>
      </div>
    </template>
  </section>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 12px;
  margin-bottom: 6px;
}

h3 {
  font-size: 1.1875rem;
}

h4 {
  margin: 10px 0 2px;
  font-size: 1rem;
}

svg {
  display: block;
  width: 100%;
  max-width: 480px;
}

rect {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}

line {
  stroke: var(--ink);
  stroke-width: 1.5;
}

:is(.power, .back) line {
  stroke-width: 4;
}

.lifted {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}

text {
  font-size: 13px;
  fill: var(--ink);
}

.second {
  fill: var(--soft);
}

:is(.lead, .back) text {
  font-family: var(--mono);
}

.key {
  margin: 4px 0 8px;
}

dl {
  margin: 0;
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
}

dt,
dd {
  margin: 0;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}

dd .fig {
  margin-right: 8px;
}

dd button {
  min-height: 24px;
  margin-left: 6px;
}

.bad .fig {
  color: var(--danger);
}

.arithmetic,
.do {
  overflow-wrap: anywhere;
}
</style>
