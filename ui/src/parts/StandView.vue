<script setup lang="ts">
/**
 * On the stand: one function after the other, step by step; beside it what has learned its travel, or its
 * linkage, drawn to scale and moving, with what it tells, each with why.
 */
import Button from 'primevue/button'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import { api, unreachable } from '../api/client'
import type { Editor, Learner, Line, LinkageReport, Problem, Standing } from '../api/client'
import { setting } from '../figures'
import { useAlone } from '../stores/alone'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import EditorFields from './EditorFields.vue'
import FigureTable from './FigureTable.vue'
import LearnedTravel from './LearnedTravel.vue'
import LinkageDrawing from './LinkageDrawing.vue'
import StandSteps from './StandSteps.vue'
import TravelRule from './TravelRule.vue'

const props = defineProps<{ line: Line }>()
const emit = defineEmits<{ close: []; go: [output: string] }>()
const bench = useBench()
const edits = useEdits()
const report = shallowRef<LinkageReport>()
const functions = shallowRef<Standing[]>([])
const learners = shallowRef<Learner[]>([])
/** A motor has no linkage: its ends are what its controller has learned. */
const motor = computed(() => learners.value.some((one) => one.kind === 'controller'))
const form = shallowRef<Editor>()
const problem = shallowRef<Problem>()

async function load() {
  const id = bench.model?.id
  if (!id) return
  const output = props.line.id
  const path = { id }
  const [told, fields, stand, learned] = await Promise.all([
    api.GET('/api/models/{id}/linkage', { params: { path, query: { output } } }),
    api.GET('/api/models/{id}/form', { params: { path, query: { part: `outputs/${output}` } } }),
    api.GET('/api/models/{id}/stand', { params: { path } }),
    api.GET('/api/models/{id}/learned', { params: { path, query: { output } } }),
  ]).catch(() => [undefined, undefined, undefined, undefined])
  if (output !== props.line.id) return
  problem.value = told ? (told.error ?? fields?.error ?? stand?.error ?? learned?.error) : unreachable
  if (told?.data) report.value = told.data.report
  form.value = fields?.data ?? form.value
  functions.value = stand?.data?.functions ?? functions.value
  learners.value = learned?.data?.learners ?? []
}
watch([() => props.line.id, () => bench.model?.revision], load, { immediate: true })

/** While it is on the stand, only this function moves. */
const alone = useAlone()
watch(
  () => props.line.id,
  (id) => alone.only(id),
  { immediate: true },
)
onBeforeUnmount(() => alone.only(''))

const known = computed(() => form.value?.fields.find((field) => field.name === 'linkage'))
/** The fields that count for its kind, in the order of the work. */
const fields = computed(() =>
  (report.value?.fields ?? []).flatMap((name) =>
    (form.value?.fields ?? []).filter(
      (field) => field.name === `linkage.${name}` || field.name.startsWith(`linkage.${name}.`),
    ),
  ),
)
const at = computed(() => functions.value.findIndex((one) => one.output === props.line.id))
const standing = computed(() => functions.value[at.value])
function go(by: number) {
  const next = functions.value[at.value + by]
  if (next) emit('go', next.output)
}
const p = computed(() => bench.values[props.line.p] ?? 0)
const round = (v: number) => Math.round(v * 10) / 10

/** Takes a length off the drawing: of the arm, of the horn, or where the hinge is. */
async function take(what: 'arm' | 'horn' | 'hinge', [x, y]: [number, number]) {
  const put = (name: string, mm: number) => {
    const field = form.value?.fields.find((one) => one.name === `linkage.${name}`)
    return field ? edits.set(field, round(mm)) : undefined
  }
  const [along = 0, aside = 0] = report.value?.hinge ?? []
  if (what === 'arm') await put('arm_mm', Math.max(Math.hypot(x, y), 1))
  else if (what === 'horn') await put('horn_mm', Math.max(Math.hypot(x - along, y - aside), 1))
  else {
    await put('along_mm', x)
    await put('aside_mm', y)
  }
}
</script>

<template>
  <section class="stand" :aria-label="`On the stand: ${line.label}`">
    <header>
      <h2>On the stand: {{ line.label }}</h2>
      <span v-if="standing" class="soft">{{ at + 1 }} of {{ functions.length }}</span>
      <span class="spring" />
      <Button class="quiet" :disabled="at < 1" @click="go(-1)">The one before</Button>
      <Button class="quiet" :disabled="at + 1 >= functions.length" @click="go(1)">The next</Button>
      <button type="button" class="link" @click="emit('close')">All functions</button>
    </header>
    <p class="soft only">While this is open, only {{ line.label }} moves; all else stays at rest.</p>
    <p v-if="problem" class="fault">{{ problem.title }}. {{ problem.detail }}</p>
    <div class="sides">
      <div>
        <StandSteps v-if="standing && form" :standing="standing" :fields="form.fields" :report="report" />
        <p v-else-if="form" class="soft">
          {{ line.label }} moves neither a servo nor a motor, so there is nothing to find on the stand.
        </p>
        <table class="functions">
          <thead>
            <tr>
              <th scope="col">Function</th>
              <th scope="col">low</th>
              <th scope="col">centre</th>
              <th scope="col">high</th>
              <th scope="col">how it was found</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in functions" :key="one.output" :data-standing="one.output">
              <th scope="row">
                <button type="button" class="link" @click="emit('go', one.output)">{{ one.label }}</button>
              </th>
              <td class="fig">{{ setting(one.low) }}</td>
              <td class="fig">{{ setting(one.centre) }}</td>
              <td class="fig">{{ one.high > 0 ? '+' : '' }}{{ setting(one.high) }}</td>
              <td class="soft">{{ one.found }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <div class="beside">
        <LearnedTravel v-for="learner in learners" :key="learner.key" :learner="learner" :line="line" />
        <template v-if="!motor">
          <h3>The linkage</h3>
          <p v-if="report?.lacks" class="caution">{{ report.lacks }}</p>
          <template v-else-if="report">
            <LinkageDrawing
              :report="report"
              :p="p"
              :low="line.rule.low"
              :high="line.rule.high"
              :name="line.label"
              @drag="take"
            />
            <TravelRule class="small" :rule="line.rule" :p="p" :name="line.label" />
            <FigureTable :figures="report.figures" />
            <p class="soft">
              This is worked out from the lengths. What you measure on the model counts; where the two differ,
              look at the lengths, at holes that are worn and at what flexes.
            </p>
          </template>
          <EditorFields v-if="known" :fields="[known]" />
          <p v-if="known && !report" class="soft">
            Say that it is known, and measure it: how far the part turns, where the rod binds, what the servo
            has to give and how even both sides are is then worked out. Nothing on the model changes by it.
          </p>
          <details v-if="report" :open="report.lacks !== ''" class="lengths">
            <summary>Its lengths</summary>
            <EditorFields :fields="fields" />
          </details>
        </template>
      </div>
    </div>
  </section>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  margin-bottom: 8px;
}

.spring {
  flex: 1;
}

.only {
  margin: 0 0 6px;
}

.sides {
  display: grid;
  grid-template-columns: minmax(0, 4fr) minmax(0, 3fr);
  gap: 28px;
}

@container main (max-width: 860px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}

.functions {
  width: 100%;
  border-collapse: collapse;
  margin-top: 14px;
}

.functions thead th {
  color: var(--soft);
  font-size: 0.9062rem;
}

.beside {
  padding-left: 20px;
  border-left: 1px solid var(--rule);
}

h2,
h3 {
  margin: 0;
}

.functions th,
.functions td {
  padding: 6px 8px 6px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  vertical-align: top;
  font-weight: inherit;
}

.caution {
  padding: 8px 14px;
  border: 1px solid var(--danger);
  border-left-width: 8px;
}

.sides :deep([data-field]) {
  padding: 3px 0;
}
</style>
