<script setup lang="ts">
/**
 * What lies between the hands and a function: expo, rates, curve and speed, with the whole line over the hand
 * beside it, and the ways to hold a motor back.
 */
import Button from 'primevue/button'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import { api, unreachable, type Editor, type Line, type Problem, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { setting, typed } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import CapChoice from './CapChoice.vue'
import CurveEditor from './CurveEditor.vue'
import EditorFields from './EditorFields.vue'
import LinePlot from './LinePlot.vue'
import MovePrompt from './MovePrompt.vue'

const props = defineProps<{ line: Line }>()
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const feel = shallowRef<Schemas['Feel']>()
const problem = shallowRef<Problem>()
const chosen = shallowRef<string>()
const hand = computed(
  () => feel.value?.hands.find((one) => one.control === chosen.value) ?? feel.value?.hands[0],
)
const lever = computed(() => hand.value?.positions.length === 0)
/** The forms of the feel, of the output and of the mixes, by part. */
const forms = shallowRef<Record<string, Editor>>({})

async function load() {
  const id = bench.model?.id
  if (!id) return
  const output = props.line.id
  const told = await api
    .GET('/api/models/{id}/feel', { params: { path: { id }, query: { output } } })
    .catch(() => undefined)
  if (output !== props.line.id) return
  problem.value = told ? told.error : unreachable
  if (!told?.data) return
  const parts = [
    `outputs/${output}`,
    ...told.data.feel.hands.flatMap((one) => [...(one.part ? [one.part] : []), ...one.mixes]),
  ]
  const asked = await Promise.all(
    [...new Set(parts)].map(async (part) => {
      const form = await api
        .GET('/api/models/{id}/form', { params: { path: { id }, query: { part } } })
        .catch(() => undefined)
      return [part, form?.data] as const
    }),
  )
  if (output !== props.line.id) return
  forms.value = Object.fromEntries(asked.filter((one): one is [string, Editor] => one[1] !== undefined))
  feel.value = told.data.feel
}
watch([() => props.line.id, () => bench.model?.revision], load, { immediate: true })
watch(
  () => props.line.id,
  () => (chosen.value = undefined),
)

const named = (part: string, names: string[]) =>
  names.flatMap((name) =>
    (forms.value[part]?.fields ?? []).filter(
      (field) => field.name === name || field.name.startsWith(`${name}.`),
    ),
  )
const shaping = computed(() => named(hand.value?.part ?? '', ['expo', 'deadband', 'rate', 'trim']))
const rates = computed(() => named(hand.value?.part ?? '', ['rates']))
const curve = computed(() => named(hand.value?.part ?? '', ['curve'])[0])
const rounded = computed(() => named(hand.value?.part ?? '', ['smooth']))
const gains = computed(() => (hand.value?.mixes ?? []).flatMap((part) => named(part, ['gain'])))
const speed = computed(() => named(`outputs/${props.line.id}`, ['slew_s']))

async function change(feel: Omit<Schemas['FeelChange'], 'control'>) {
  if (!hand.value) return
  const outcome = await edits.act({
    act: 'feel',
    part: `outputs/${props.line.id}`,
    feel: { ...feel, control: hand.value.control },
  })
  problem.value = outcome.kept ? undefined : outcome.problem
}

/** Another rate: how much, while what was moved is where it was put, or in its zone. */
const asking = shallowRef(false)
const other = shallowRef('60')
const zone = shallowRef(['0', '100'])
const wanted = shallowRef('')
const wantedLever = computed(() => bench.view?.controls.find((c) => c.id === wanted.value))
function moved(what: string[]) {
  asking.value = false
  wanted.value = what[0] ?? ''
  if (!wantedLever.value) void keepRate()
}
async function keepRate() {
  const rate = typed(other.value, '%')
  const [from, to] = zone.value.map((text) => typed(text, '%'))
  if (rate === undefined || from === undefined || to === undefined) {
    problem.value = { ...unreachable, title: 'This is no figure', detail: 'write one such as 60' }
    return
  }
  await change({ what: 'rate', rate, when: wanted.value, from, to })
  wanted.value = ''
}

const positions = shallowRef<string[]>([])
watch(
  () => hand.value?.positions,
  (now) => (positions.value = (now ?? []).map((one) => setting(one.value))),
  { immediate: true },
)
/** Puts a position elsewhere while watching; what it becomes is kept with the button. */
function putPosition(at: number, text: string) {
  positions.value = positions.value.map((was, k) => (k === at ? text : was))
  const levels = positions.value.map((one) => typed(one, '%'))
  if (!curve.value || levels.some((v) => v === undefined)) return
  const last = levels.length - 1
  edits.attempt(
    curve.value,
    levels.map((v, k) => [String(-100 + (200 * k) / last), String(v)]),
  )
}
function movePosition(at: number, by: number) {
  const now = typed(positions.value[at] ?? '', '%') ?? 0
  putPosition(at, setting(Math.min(Math.max(Math.round(now + by), -150), 150)))
}
onBeforeUnmount(() => edits.drop())
async function keepPositions(to?: number[]) {
  const values = to ?? positions.value.map((text) => typed(text, '%'))
  if (values.some((v) => v === undefined)) {
    problem.value = { ...unreachable, title: 'This is no figure', detail: 'write one such as −100' }
    return
  }
  await change({ what: 'steps', values: values as number[] })
}
/** A travel that is not known begins mild, whichever way. */
const mild = computed(() => (hand.value?.positions ?? []).map((one) => Math.sign(one.value) * 45))
const straight = [
  [-100, -100],
  [0, 0],
  [100, 100],
]
</script>

<template>
  <section class="feel" :aria-label="`Feel: ${line.label}`">
    <header>
      <h2>Feel: {{ line.label }}</h2>
      <span class="spring" />
      <button type="button" class="link" @click="emit('close')">All functions</button>
    </header>
    <p v-if="problem" class="fault">{{ problem.title }}. {{ problem.detail }}</p>
    <template v-if="feel && !hand">
      <p class="soft">
        No stick or switch moves {{ line.label }} directly: steps or rules do, or nothing yet. What they do is
        set in Rules.
      </p>
      <EditorFields :fields="speed" />
    </template>
    <template v-if="hand">
      <ul v-if="feel && feel.hands.length > 1" class="hands" aria-label="What moves it">
        <li v-for="one in feel.hands" :key="one.control">
          <button
            type="button"
            class="step"
            :aria-current="one.control === hand.control ? 'true' : undefined"
            :data-hand="one.control"
            @click="chosen = one.control"
          >
            {{ one.label }}
          </button>
        </li>
      </ul>
      <div class="sides">
        <div>
          <p class="says">
            <b>{{ hand.label }}</b>
            <template v-for="one in hand.says" :key="one"> → {{ one }}</template> → {{ line.label }}
          </p>
          <p v-if="hand.also" class="soft">What is set here shapes {{ hand.also }} too.</p>
          <p v-if="!hand.part" class="acts">
            <Button class="quiet" @click="once($event, () => change({ what: 'shape' }))"
              >Give it expo, rates or a curve</Button
            >
            <span class="soft">Nothing changes until one of them is set.</span>
          </p>
          <EditorFields v-else :key="hand.part" :fields="shaping" slider />
          <template v-if="lever">
            <h3>Another rate</h3>
            <EditorFields
              v-if="rates.length && hand.says.some((one) => one.includes(' while '))"
              :fields="rates"
            />
            <p class="acts">
              <label
                >Rate <input v-model="other" class="box fig" inputmode="decimal" size="3" /> % while a switch
                is somewhere, or a lever in a zone</label
              >
              <Button class="quiet" :aria-pressed="asking" @click="asking = true">Move it…</Button>
            </p>
            <MovePrompt
              v-if="asking"
              :asks="['Put the switch where this rate is to hold, or move the lever.']"
              @moved="moved"
              @cancel="asking = false"
            />
            <p v-if="wantedLever" class="acts">
              <label
                >{{ wantedLever.label }} from
                <input
                  class="box fig"
                  inputmode="decimal"
                  size="4"
                  :value="zone[0]"
                  @change="zone = [($event.target as HTMLInputElement).value, zone[1] ?? '']"
              /></label>
              <label
                >to
                <input
                  class="box fig"
                  inputmode="decimal"
                  size="4"
                  :value="zone[1]"
                  @change="zone = [zone[0] ?? '', ($event.target as HTMLInputElement).value]"
                />
                %</label
              >
              <Button class="quiet" @click="once($event, keepRate)">Keep this rate</Button>
            </p>
          </template>
          <template v-else>
            <h3>What each position asks for</h3>
            <p class="acts">
              <span v-for="(one, i) in hand.positions" :key="one.name" class="position">
                <label
                  >{{ one.name }}
                  <input
                    class="box fig"
                    inputmode="decimal"
                    size="5"
                    :data-position="i"
                    :value="positions[i]"
                    @change="putPosition(i, ($event.target as HTMLInputElement).value)"
                /></label>
                <Button class="quiet" :aria-label="`${one.name}: 5 less`" @click="movePosition(i, -5)"
                  >−</Button
                >
                <Button class="quiet" :aria-label="`${one.name}: 5 more`" @click="movePosition(i, 5)"
                  >+</Button
                >
              </span>
              <Button class="quiet" @click="once($event, () => keepPositions())">Keep</Button>
            </p>
            <p class="acts">
              <Button class="quiet" @click="once($event, () => keepPositions(mild))"
                >Begin mild, at 45</Button
              >
              <span class="soft"
                >for a travel that is not known yet; then go on from there while watching</span
              >
            </p>
            <p v-if="hand.positions.length === 3" class="acts">
              <Button class="quiet" @click="once($event, () => keepPositions([100, -100, -100]))"
                >on, off, off</Button
              >
              <Button class="quiet" @click="once($event, () => keepPositions([-100, 100, -100]))"
                >off, on, off</Button
              >
              <Button class="quiet" @click="once($event, () => keepPositions([-100, -100, 100]))"
                >off, off, on</Button
              >
            </p>
          </template>
          <template v-if="gains.length">
            <h3>How much of it counts, and how fast</h3>
            <EditorFields :fields="[...gains, ...speed]" />
          </template>
        </div>
        <div class="beside">
          <template v-if="lever">
            <h3>The whole line over the hand</h3>
            <LinePlot :control="hand.control" :output="line.id" :name="line.label" />
            <h3>Its curve</h3>
            <template v-if="hand.curve && curve">
              <CurveEditor
                :key="hand.part"
                :curve="hand.curve"
                :field="curve"
                :joint="hand.joint"
                :name="hand.label"
              />
              <EditorFields :fields="rounded" />
              <Button class="quiet" @click="once($event, () => change({ what: 'curve', points: [] }))"
                >No curve</Button
              >
            </template>
            <p v-else class="acts">
              <Button class="quiet" @click="once($event, () => change({ what: 'curve', points: straight }))"
                >Draw a curve</Button
              >
              <span class="soft">It begins straight, through three points.</span>
            </p>
            <p v-if="hand.counts.length" class="soft">
              A curve of this transmitter has {{ hand.counts.join(' or ') }} points.
            </p>
          </template>
        </div>
      </div>
      <CapChoice v-if="lever" :output="line.id" :control="hand.control" />
    </template>
  </section>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
}

.spring {
  flex: 1;
}

h2 {
  margin: 0;
}

h3 {
  margin: 14px 0 4px;
}

.beside > h3:first-child {
  margin-top: 0;
}

.hands {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

.step {
  min-height: 40px;
  padding: 2px 8px;
  background: none;
  color: var(--ink);
  border: 0;
  border-bottom: 3px solid var(--rule);
  font: inherit;
  cursor: pointer;
}

.step[aria-current] {
  border-color: var(--petrol);
  font-weight: 700;
}

.says {
  margin: 8px 0;
}

.sides {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
}

@container main (max-width: 860px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}

.sides :deep([data-field]) {
  padding: 3px 0;
}

.sides :deep([data-field] > label) {
  min-width: 9em;
}
</style>
