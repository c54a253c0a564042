<script setup lang="ts">
/** The leads as a drawing, who feeds whom, and the power of each receiver, each figure with its why. */
import Button from 'primevue/button'
import { shallowRef } from 'vue'

import { api } from '../api/client'
import { capital } from '../figures'
import { useRevised } from '../composables/useRevised'
import PartForm from './PartForm.vue'
import PowerFigures from './PowerFigures.vue'

const props = defineProps<{ id: string }>()
const telling = shallowRef(false)
const { answer: leads, problem } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/leads', { params: { path: { id } }, signal }),
)

const short = (text: string, wide: number) => {
  const most = Math.floor((wide - 12) / 6.6)
  return text.length > most ? `${text.slice(0, most - 1)}…` : text
}
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
          <polyline :points="line.at.join(' ')" />
          <circle v-if="line.joint" :cx="line.at[0]! + 12" :cy="line.at[1]" r="5" />
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
        A thick line brings power, a thin one is a lead with signal, power and ground; × on it: its red wire
        is lifted<template v-if="leads.drawing.lines.some((l) => l.joint)"
          >; ○ on it: through the turning joint</template
        ><template v-if="leads.drawing.lines.some((l) => l.kind === 'sense')"
          >; a broken one only tells volts</template
        >.
      </p>
      <div v-for="(power, i) in leads.power" :key="i" :data-power="power.title">
        <h4 v-if="leads.power.length > 1">{{ power.title }}</h4>
        <PowerFigures :figures="power.figures" />
        <details v-if="power.behind.length">
          <summary>At each device, everything stalled</summary>
          <PowerFigures :figures="power.behind" />
        </details>
        <p v-if="power.lacks" class="soft">{{ power.lacks }}</p>
      </div>
      <details v-if="leads.drawing.lines.length" data-in-words>
        <summary>The leads in words</summary>
        <ul>
          <li v-for="(line, i) in leads.drawing.lines" :key="i">{{ capital(line.says) }}.</li>
        </ul>
      </details>
      <p v-if="leads.caution" class="label key" data-caution>{{ leads.caution }}</p>
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

polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}

circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}

:is(.power, .back) polyline {
  stroke-width: 4;
}

.sense polyline {
  stroke-dasharray: 5 4;
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

summary {
  min-height: 32px;
  padding-top: 6px;
  color: var(--petrol);
  cursor: pointer;
}
</style>
