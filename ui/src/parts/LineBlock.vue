<script setup lang="ts">
/** The open line: every joint live, lines that share joints drawn as one block. */
import { computed, nextTick, onMounted, shallowRef, useTemplateRef, watch } from 'vue'

import type { Block, Joint, View } from '../api/client'
import { useBench } from '../stores/bench'
import { useJoint } from '../stores/joint'
import AddToFunction from './AddToFunction.vue'
import JointEditor from './JointEditor.vue'
import JointMark from './JointMark.vue'
import LinePlot from './LinePlot.vue'
import PartForm from './PartForm.vue'
import WhyPanel from './WhyPanel.vue'

const props = defineProps<{
  block: Block
  view: View
  first: string
  pointed?: { joint: string; part: string }
}>()
defineEmits<{ fold: []; stand: [output: string]; feel: [output: string] }>()
const bench = useBench()
const looked = useJoint()
const section = useTemplateRef<HTMLElement>('section')

const joints = computed<Joint[]>(() => [
  ...(props.block.chains ?? []).flat(),
  ...(props.block.share ? [props.block.share] : []),
  ...props.block.rows.flatMap((row) => row.joints),
])

const chosenKey = shallowRef(`out/${props.first}/ends`)
/** A joint that is not drawn is chosen with the one that has its fields. */
const isAt = (j: Joint, key: string) => j.key === key || (j.has?.includes(key) ?? false)
const chosen = computed(() => joints.value.find((j) => isAt(j, chosenKey.value)) ?? joints.value[0])

watch(
  () => chosen.value?.key,
  (key) => looked.watch(key ?? ''),
  { immediate: true },
)

/** The whole part that is open under a joint. */
const part = shallowRef<string>()
watch(
  () => chosen.value?.key,
  () => (part.value = undefined),
)
/** What was opened is seen as whole as the window lets it. */
onMounted(() => section.value?.scrollIntoView({ block: 'nearest' }))
watch(
  () => props.pointed,
  async (to) => {
    if (!to?.joint && !to?.part) return
    if (joints.value.some((j) => isAt(j, to.joint))) chosenKey.value = to.joint
    await nextTick()
    part.value = to.part || undefined
    section.value?.scrollIntoView({ block: 'nearest' })
  },
  { immediate: true },
)
/** The control at the chosen joint. */
const control = computed(() => {
  const [kind, id] = (chosen.value?.key ?? '').split('/')
  return kind === 'control' ? id : undefined
})

/** The axis along whose travel the line is drawn: that of the chain in which the chosen joint stands. */
const plotted = computed(() => {
  const key = chosen.value?.key ?? ''
  if (!/^(control|demand|term)\//.test(key)) return ''
  const chain = props.block.chains?.find((c) => c.some((j) => j.key === key))
  const control = chain?.[0]?.key.replace('control/', '') ?? ''
  return props.view.controls.find((c) => c.id === control)?.kind === 'axis' ? control : ''
})
const plotLine = computed(() => props.view.lines.find((l) => l.id === props.first))

const widest = computed(() => Math.max(...props.block.rows.map((row) => row.joints.length)))
const longest = computed(() => Math.max(...(props.block.chains ?? []).map((chain) => chain.length), 1))
/** Where the lines part: with two that cross, all that comes before stands in the same row. */
const crossed = computed(() => props.block.crosses)

/** A joint of a row, in which columns it stands where two cross, and what its caption begins with. */
interface Placed {
  joint: Joint
  columns?: string
  before?: string
}

/** The joints of a row: with two that cross, those of its chain too, and the ends under each other. */
function placed(i: number): Placed[] {
  const row = props.block.rows[i]
  if (!row) return []
  if (!crossed.value) return row.joints.map((joint) => ({ joint }))
  const chain = props.block.chains?.[i] ?? []
  const [cross, after] = [longest.value + 1, row.joints.length - 1]
  const last = cross + widest.value
  return [
    ...chain.map((joint, k) => ({ joint, columns: `${k + 1} / ${k + 1 < chain.length ? k + 2 : cross}` })),
    ...row.joints.map((joint, k) => ({
      joint,
      columns: k === 0 ? `${cross + 1} / ${last - after + 1}` : `${last - after + k}`,
      before: k === 0 ? row.name : undefined,
    })),
  ]
}

const reason = computed(() => (looked.reason?.joint === chosen.value?.key ? looked.reason?.tree : undefined))

const answering = computed(() => {
  const lines = props.block.rows.map((row) => props.view.lines.find((l) => l.id === row.line))
  const moved = bench.moving
  if (!moved || !lines.some((l) => l?.controls.includes(moved))) return ''
  const control = props.view.controls.find((c) => c.id === moved)
  const name = control?.stick ? `${control.stick} stick` : control?.label.toLowerCase()
  return `answering the ${name}`
})

function isLive(joint: Joint): boolean {
  return joint.key === `control/${bench.moving}`
}
</script>

<template>
  <section ref="section" class="block" :aria-label="block.title" @keydown.escape="$emit('fold')">
    <header>
      <span class="answers" :class="{ answering }" aria-hidden="true" />
      <button type="button" class="title" aria-expanded="true" @click="$emit('fold')">
        <h2>{{ block.title }}</h2>
      </button>
      <span class="unseen">{{ answering }}</span>
      <span class="label strong note"
        >{{ block.note
        }}<button
          v-if="block.share"
          type="button"
          class="link share"
          :data-joint="block.share.key"
          :aria-pressed="block.share.key === chosen?.key"
          @click="chosenKey = block.share.key"
        >
          <span class="unseen">{{ block.share.caption }}: </span>{{ block.share.text }}
        </button></span
      >
    </header>
    <div v-if="!crossed" class="chains">
      <div v-for="(chain, i) in block.chains" :key="i" class="chain">
        <JointMark
          v-for="joint in chain"
          :key="joint.key"
          :joint="joint"
          :values="bench.values"
          :chosen="joint.key === chosen?.key"
          :live="isLive(joint)"
          @choose="chosenKey = joint.key"
        />
      </div>
    </div>
    <div
      class="rows"
      :class="{ named: block.rows.length > 1, crossed }"
      :style="{ '--joints': widest, '--before': longest }"
    >
      <div v-for="(row, i) in block.rows" :key="row.line" class="lineRun" :data-line="row.line">
        <h3 v-if="row.name && !crossed">{{ row.name }}</h3>
        <JointMark
          v-for="one in placed(i)"
          :key="one.joint.key"
          :style="{ gridColumn: one.columns }"
          :joint="one.joint"
          :before="one.before"
          :values="bench.values"
          :chosen="one.joint.key === chosen?.key"
          :live="isLive(one.joint)"
          @choose="chosenKey = one.joint.key"
        />
        <span class="arrow" aria-hidden="true" />
      </div>
      <div v-if="crossed" class="cross" aria-hidden="true">
        <svg viewBox="0 0 1 1" preserveAspectRatio="none">
          <path d="M 0 0 H 1 M 0 1 H 1 M 0 0 C 0.6 0 0.4 1 1 1 M 0 1 C 0.6 1 0.4 0 1 0" />
        </svg>
      </div>
    </div>
    <div class="below">
      <JointEditor
        v-if="chosen?.editor"
        :key="chosen.key"
        :editor="chosen.editor"
        :lines="view.lines"
        :values="bench.values"
      />
      <p v-else class="label">{{ chosen?.caption }}</p>
      <div>
        <LinePlot v-if="plotted && plotLine" :control="plotted" :output="first" :name="plotLine.label" />
        <WhyPanel :reason="reason" />
      </div>
    </div>
    <div class="parts">
      <AddToFunction
        :line="first"
        :name="plotLine?.label ?? block.title"
        :title="block.title"
        :control="control"
        @added="part = $event"
      >
        <button type="button" class="link" @click="$emit('feel', first)">Feel</button>
        <button type="button" class="link" @click="$emit('stand', first)">On the stand</button>
        <span v-if="chosen?.parts?.length" class="label">All of it:</span>
        <template v-for="one in chosen?.parts ?? []" :key="one.part">
          <button
            v-if="one.place === 'functions'"
            type="button"
            class="link partLink"
            :aria-expanded="part === one.part"
            :data-part="one.part"
            @click="part = part === one.part ? undefined : one.part"
          >
            {{ one.name }}
          </button>
          <RouterLink
            v-else
            class="partLink"
            :data-part="one.part"
            :to="{ name: one.place, params: { id: bench.model?.id }, query: { part: one.part } }"
            >{{ one.name }}</RouterLink
          >
        </template>
      </AddToFunction>
    </div>
    <PartForm
      v-if="part"
      :key="part"
      class="whole"
      :part="part"
      @gone="part = undefined"
      @renamed="part = $event"
    />
  </section>
</template>

<style scoped>
.block {
  margin: 8px 0;
  padding: 10px 12px 14px;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  border-left: 5px solid var(--petrol);
  border-radius: 3px;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
  margin-bottom: 2px;
}

/* as in the register; words here would move the joints from under the hand */
.answers {
  align-self: center;
  width: 11px;
  height: 11px;
  border: 1.5px solid var(--rule);
  border-radius: 50%;
}

.answers.answering {
  background: var(--now);
  border-color: var(--ink);
}

.title {
  padding: 0;
  min-height: 40px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  cursor: pointer;
}

h2 {
  font-size: 1.25rem;
}

.strong {
  font-weight: 700;
}

.note {
  margin-left: auto;
}

.chains {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}

.chain {
  display: flex;
  flex-wrap: wrap;
  row-gap: 4px;
}

.share {
  min-height: 40px;
  font-size: var(--label);
}

.share[aria-pressed='true'] {
  font-weight: 700;
}

.note:not(:empty) .share::before {
  content: '';
  margin-left: 14px;
}

.rows {
  display: grid;
  grid-template-columns: repeat(var(--joints), auto) minmax(14px, 1fr);
  row-gap: 4px;
  margin-top: 6px;
}

.rows.named {
  grid-template-columns: auto repeat(var(--joints), auto) minmax(14px, 1fr);
}

/* two that cross: what comes before, where they cross, what comes after, each in its columns */
.rows.crossed {
  position: relative;
  grid-template-columns: repeat(var(--before), auto) 30px repeat(var(--joints), auto) minmax(12px, 1fr);
  grid-auto-rows: 1fr;
}

.crossed :deep(.value) {
  padding-right: 8px;
  font-size: 1.0625rem;
}

.crossed :deep(.value.words) {
  white-space: nowrap;
}

.rows.crossed .arrow {
  grid-column: -2;
}

.crossed > :nth-child(1) {
  grid-row: 1;
}

.crossed > :nth-child(2) {
  grid-row: 2;
}

.crossed .lineRun > * {
  grid-row: 1;
}

.cross {
  grid-row: 1 / 3;
  grid-column: calc(var(--before) + 1);
  position: relative;
}

/* the lines run 35 px above the lower edge of their rows, which are alike in height and 4 px apart */
.cross svg {
  position: absolute;
  inset: calc(50% - 37px) 0 auto;
  width: 100%;
  height: calc(50% + 2px);
  overflow: visible;
}

.cross path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
  vector-effect: non-scaling-stroke;
}

.lineRun {
  display: grid;
  grid-column: 1 / -1;
  grid-template-columns: subgrid;
  align-items: end;
}

/* a line alone has no other to stand under: it takes as many rows as it needs */
.rows:not(.named) {
  grid-template-columns: minmax(0, 1fr);
}

.rows:not(.named) .lineRun {
  display: flex;
  flex-wrap: wrap;
}

.rows:not(.named) .arrow {
  flex: 1 0 14px;
}

h3 {
  font-size: 1.0625rem;
  padding: 0 16px 5px 0;
}

.arrow {
  align-self: start;
  margin-top: 21px;
  height: 12px;
  background: linear-gradient(to left, transparent 10px, var(--ink) 10px) 0 50% / 100% 1.3px no-repeat;
}

.arrow::after {
  content: '';
  float: right;
  border-left: 11px solid var(--ink);
  border-top: 6px solid transparent;
  border-bottom: 6px solid transparent;
}

.below {
  display: grid;
  grid-template-columns: minmax(0, 0.8fr) minmax(0, 1.2fr);
  gap: 16px;
  margin-top: 8px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}

.below > :nth-child(2) {
  border-left: 1px solid var(--rule);
  padding-left: 16px;
}

.parts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 16px;
  margin-top: 8px;
}

.partLink[aria-expanded='true'] {
  font-weight: 700;
}

.whole {
  margin-top: 6px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}

@container register (min-width: 600px) and (max-width: 880px) {
  h3 {
    padding-right: 8px;
  }

  .arrow {
    align-self: end;
    margin: 0 0 29px;
  }
}

@container register (max-width: 599px) {
  .rows,
  .rows.named,
  .below {
    grid-template-columns: minmax(0, 1fr);
  }

  .cross {
    display: none;
  }

  .rows.crossed {
    grid-template-columns: minmax(0, 1fr);
  }

  .lineRun {
    display: flex;
    flex-wrap: wrap;
  }

  h3 {
    flex-basis: 100%;
  }

  .below > :nth-child(2) {
    border-left: 0;
    padding-left: 0;
  }

  .arrow {
    display: none;
  }
}
</style>
