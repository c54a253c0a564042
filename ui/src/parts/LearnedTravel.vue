<script setup lang="ts">
/**
 * What something has learned of a travel, drawn over what is sent to it, with the pulse that it gets
 * now; what follows from it; and the ways to bring both together, step by step.
 */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import type { Learner, Line, Problem } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { wholePulse } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import FigureTable from './FigureTable.vue'

const props = defineProps<{ learner: Learner; line: Line }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const problem = shallowRef<Problem>()
watch(
  () => props.learner.key,
  () => (problem.value = undefined),
)

const size = { w: 400, h: 122, left: 96, right: 30 }
const all = computed(() => props.learner.places.flatMap((place) => [place.learned_us, place.sent_us]))
const from = computed(() => Math.min(...all.value) - 30)
const to = computed(() => Math.max(...all.value) + 30)
const x = (us: number) =>
  size.left + ((us - from.value) / (to.value - from.value)) * (size.w - size.left - size.right)
const learned = computed(() => props.learner.places.map((place) => place.learned_us))
const sent = computed(() => props.learner.places.map((place) => place.sent_us))
const now = computed(
  () => bench.values[props.learner.kind === 'module' ? props.line.pulse : props.line.arrives] ?? 0,
)
const seen = computed(() => now.value >= from.value && now.value <= to.value)
const drawn = computed(
  () =>
    `${props.learner.name} has learned ${learned.value.map(wholePulse).join(', ')} microseconds; ` +
    `${sent.value.map(wholePulse).join(', ')} are sent; now ${wholePulse(now.value)}`,
)

async function note(act: string) {
  const outcome = await edits.act({
    act: 'stand',
    part: `outputs/${props.line.id}`,
    of: act,
    to: props.learner.key,
  })
  problem.value = outcome.kept ? undefined : outcome.problem
}
</script>

<template>
  <section class="learned" :data-learner="learner.key" :aria-label="`What ${learner.name} has learned`">
    <h3>What {{ learner.name }} {{ learner.kind === 'module' ? 'was told' : 'has learned' }}</h3>
    <svg :viewBox="`0 0 ${size.w} ${size.h}`" role="img" :aria-label="drawn">
      <rect
        v-if="learner.dead_us"
        :x="x((learned[1] ?? 0) - learner.dead_us)"
        :width="x((learned[1] ?? 0) + learner.dead_us) - x((learned[1] ?? 0) - learner.dead_us)"
        y="26"
        height="22"
        class="dead"
      />
      <text x="0" y="42" class="name">learned</text>
      <line :x1="x(learned[0] ?? 0)" :x2="x(learned[2] ?? 0)" y1="37" y2="37" class="thick" />
      <g v-for="(us, i) in learned" :key="i">
        <line :x1="x(us)" :x2="x(us)" y1="26" y2="48" class="thin" />
        <text :x="x(us)" y="20" text-anchor="middle">{{ wholePulse(us) }}</text>
      </g>
      <text x="0" y="92" class="name">sent, µs</text>
      <line :x1="x(sent[0] ?? 0)" :x2="x(sent[2] ?? 0)" y1="87" y2="87" class="thick sent" />
      <g v-for="(us, i) in sent" :key="i">
        <line :x1="x(us)" :x2="x(us)" y1="76" y2="98" class="thin" />
        <text :x="x(us)" y="114" text-anchor="middle">{{ wholePulse(us) }}</text>
      </g>
      <path v-if="seen" :d="`M${x(now) - 7} 52h14l-7 12zm7 12V87`" class="now" />
    </svg>
    <table class="places">
      <tbody>
        <tr v-for="place in learner.places" :key="place.title">
          <th scope="row">{{ place.title }}</th>
          <td class="fig">{{ wholePulse(place.sent_us) }} µs</td>
          <td>{{ place.says }}</td>
        </tr>
      </tbody>
    </table>
    <FigureTable :figures="learner.findings" />
    <p v-if="problem" class="fault">{{ problem.title }}. {{ problem.detail }}</p>
    <details v-for="cure in learner.cures" :key="cure.act" class="cure" :data-cure="cure.act">
      <summary>{{ cure.title }}</summary>
      <p v-if="cure.note" class="soft">{{ cure.note }}</p>
      <p v-if="cure.harms && cure.steps.length" class="caution">
        Propeller off, wheels and tracks clear of the ground: while it learns, the motor may start at once.
      </p>
      <ol>
        <li v-for="step in cure.steps" :key="step.do">
          {{ step.do }}
          <span class="soft">{{ step.see }}</span>
        </li>
      </ol>
      <Button v-if="cure.done" class="quiet" @click="once($event, () => note(cure.act))">
        {{ cure.act === 'to_learned' ? 'Set it so' : 'It has learned it' }}
      </Button>
    </details>
  </section>
</template>

<style scoped>
.learned {
  margin-bottom: 20px;
}

h3 {
  margin: 0 0 6px;
}

svg {
  width: 100%;
  max-width: 460px;
}

.thick {
  stroke: var(--petrol);
  stroke-width: 5;
}

.sent {
  stroke: var(--ink);
}

.thin {
  stroke: var(--ink);
  stroke-width: 1.5;
}

.dead {
  fill: var(--rule);
}

.now {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 1.5;
}

text {
  font: 14px var(--mono);
  fill: var(--ink);
}

.name {
  font-family: inherit;
  fill: var(--soft);
}

.places {
  width: 100%;
  border-collapse: collapse;
}

.places th,
.places td {
  padding: 4px 10px 4px 0;
  text-align: left;
  vertical-align: top;
  font-weight: inherit;
}

.places .fig {
  white-space: nowrap;
}

.cure {
  margin-top: 10px;
}

.cure summary {
  min-height: 40px;
  padding: 8px 0;
  cursor: pointer;
}

.cure ol {
  margin: 6px 0 10px;
  padding-left: 24px;
}

.cure li {
  margin-bottom: 8px;
}

.cure li .soft {
  display: block;
}

.caution {
  padding: 8px 14px;
  border: 1px solid var(--danger);
  border-left-width: 8px;
}
</style>
