<script setup lang="ts">
/**
 * What happened: strips against time, ten minutes back. A press on an edge asks why; keys move the cursor
 * from edge to edge; two marks tell the time between.
 */
import Button from 'primevue/button'
import { useElementSize, useElementVisibility, usePreferredReducedMotion } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, shallowRef, useTemplateRef, watch } from 'vue'

import { shown } from '../figures'
import { useBench } from '../stores/bench'
import { useRecord, valueAt, type Strip } from '../stores/record'
import { drawStrip, nearestEdge, type Ink } from './strips'

const bench = useBench()
const record = useRecord()
onMounted(() => record.want(true))
onBeforeUnmount(() => record.want(false))

const spans = [10, 30, 120, 600]
const row = 28
const span = shallowRef(30)
/** The last frame of the window; undefined: it goes along with time. */
const end = shallowRef<number>()
const cursor = shallowRef<number>()
const marks = shallowRef<number[]>([])
const chosen = shallowRef('')
const everything = shallowRef(false)

const perSecond = computed(() => 1000 / bench.frameMs)
/** What changed in what is on record; the order is that of the record. */
const active = computed(() => {
  void record.to
  return record.strips.filter((strip) => strip.frames.length > 0)
})
const listed = shallowRef<Strip[]>([])
watch(
  [() => active.value.map((strip) => strip.key).join(), () => record.strips, () => everything.value],
  () => (listed.value = everything.value ? record.strips : active.value),
  { immediate: true },
)

const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width } = useElementSize(box)
const visible = useElementVisibility(box)
const still = usePreferredReducedMotion()

/** The frames that are drawn now. */
function spanned(): { from: number; to: number } {
  const since = Math.min((performance.now() - record.came) / bench.frameMs, 8)
  const to = end.value ?? record.to + (still.value === 'reduce' ? 0 : Math.max(since, 0))
  return { from: to - span.value * perSecond.value, to }
}

let colours: Ink | undefined
function ink(): Ink {
  const style = getComputedStyle(document.documentElement)
  const of = (name: string) => style.getPropertyValue(name).trim()
  return {
    ink: of('--ink'),
    soft: of('--soft'),
    rule: of('--rule'),
    deck: of('--deck'),
    now: of('--now'),
    petrol: of('--petrol'),
  }
}

function draw() {
  const at = canvas.value
  const pen = at?.getContext('2d')
  if (!at || !pen || !width.value) return
  const ratio = devicePixelRatio
  const height = listed.value.length * row
  if (at.width !== Math.round(width.value * ratio) || at.height !== Math.round(height * ratio)) {
    at.width = Math.round(width.value * ratio)
    at.height = Math.round(height * ratio)
    colours = ink()
  }
  colours ??= ink()
  pen.setTransform(ratio, 0, 0, ratio, 0, 0)
  pen.clearRect(0, 0, width.value, height)
  pen.font = '14.5px "Atkinson Hyperlegible Next Variable", sans-serif'
  const shownNow = { ...spanned(), width: width.value, row }
  const x = (frame: number) => ((frame - shownNow.from) / (shownNow.to - shownNow.from)) * width.value
  // nothing is known of what was before
  const known = Math.max(0, x(record.from))
  pen.save()
  pen.beginPath()
  pen.rect(known, 0, width.value - known, height)
  pen.clip()
  listed.value.forEach((strip, i) => {
    pen.strokeStyle = colours?.rule ?? ''
    pen.lineWidth = 1
    pen.beginPath()
    pen.moveTo(0, (i + 1) * row - 0.5)
    pen.lineTo(width.value, (i + 1) * row - 0.5)
    pen.stroke()
    if (colours) drawStrip(pen, strip, i * row, shownNow, colours)
  })
  pen.restore()
  const line = (frame: number, colour: string, dashed: boolean, wide: number) => {
    pen.strokeStyle = colour
    pen.lineWidth = wide
    pen.setLineDash(dashed ? [5, 4] : [])
    pen.beginPath()
    pen.moveTo(x(frame), 0)
    pen.lineTo(x(frame), height)
    pen.stroke()
    pen.setLineDash([])
  }
  for (const mark of marks.value) line(mark, colours.soft, false, 2)
  if (cursor.value !== undefined) line(cursor.value, colours.petrol, true, 2)
}
let picture = 0
function loop() {
  picture = requestAnimationFrame(loop)
  if (visible.value) draw()
}
onMounted(loop)
onBeforeUnmount(() => cancelAnimationFrame(picture))
watch(
  () => document.documentElement.className,
  () => (colours = undefined),
)

const seconds = (frame: number) => `${((frame - 1) / perSecond.value).toFixed(2)} s`
const ago = computed(() =>
  cursor.value === undefined ? '' : `${((record.to - cursor.value) / perSecond.value).toFixed(1)} s ago`,
)
const between = computed(() => {
  const [a, b] = marks.value
  return a === undefined || b === undefined ? '' : `${(Math.abs(b - a) / perSecond.value).toFixed(3)} s`
})
const says = (strip: Strip) => {
  const v = valueAt(strip, cursor.value ?? record.to)
  if (strip.kind === 'truth') return v > 0 ? 'on' : 'off'
  return strip.kind === 'name' ? (strip.names[v] ?? '') : shown(v, '%')
}

function hold() {
  end.value ??= record.to
}
function follow() {
  end.value = cursor.value = undefined
  chosen.value = ''
}
function zoom(by: number) {
  const at = Math.max(0, Math.min(spans.length - 1, spans.indexOf(span.value) + by))
  span.value = spans[at] ?? span.value
}
function ask(strip: Strip, frame: number) {
  chosen.value = strip.key
  cursor.value = frame
  hold()
  reveal(frame)
  record.why(strip.key, frame)
}
/** The window goes to where the cursor is. */
function reveal(frame: number) {
  const at = spanned()
  if (frame < at.from) end.value = frame + span.value * perSecond.value * 0.8
  else if (frame > at.to) end.value = Math.min(record.to, frame + span.value * perSecond.value * 0.2)
}
function press(event: PointerEvent) {
  const at = spanned()
  const frame = Math.round(at.from + (event.offsetX / width.value) * (at.to - at.from))
  const strip = listed.value[Math.floor(event.offsetY / row)]
  if (event.shiftKey) return mark(frame)
  if (!strip) return
  const near = nearestEdge(strip, frame, ((at.to - at.from) / width.value) * 9)
  ask(strip, Math.max(record.from, Math.min(near ?? frame, record.to)))
}
function mark(frame: number) {
  marks.value = [...marks.value.slice(-1), frame]
}
function keys(event: KeyboardEvent) {
  const strip = listed.value.find((one) => one.key === chosen.value) ?? listed.value[0]
  if (!strip) return
  const frame = cursor.value ?? record.to
  const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (step !== undefined) {
    const edges = strip.frames
    const next =
      event.altKey || !edges.length
        ? frame + step
        : step < 0
          ? edges.findLast((one) => one < frame)
          : edges.find((one) => one > frame)
    if (next !== undefined) ask(strip, next)
  } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
    const at = listed.value.indexOf(strip) + (event.key === 'ArrowUp' ? -1 : 1)
    const other = listed.value[at]
    if (other) ask(other, frame)
  } else if (event.key === '+' || event.key === '-') zoom(event.key === '+' ? -1 : 1)
  else if (event.key === 'm') mark(frame)
  else if (event.key === 'Escape') follow()
  else return
  event.preventDefault()
}

async function save(as: 'csv' | 'vcd') {
  const at = spanned()
  const text = await record.save(
    as,
    listed.value.map((strip) => strip.key),
    Math.round(at.from),
    Math.round(at.to),
  )
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: as === 'csv' ? 'text/csv' : 'text/plain' }))
  link.download = `record.${as}`
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
</script>

<template>
  <section class="record" aria-label="What happened">
    <header>
      <h3>Last {{ span < 120 ? `${span} s` : `${span / 60} min` }}</h3>
      <div class="acts">
        <Button
          v-for="one in spans"
          :key="one"
          class="quiet"
          :aria-pressed="span === one"
          @click="span = one"
          >{{ one < 120 ? `${one} s` : `${one / 60} min` }}</Button
        >
        <Button v-if="end !== undefined" class="quiet" @click="follow">Go along</Button>
        <Button v-else class="quiet" :disabled="!listed.length" @click="hold">Hold it</Button>
      </div>
    </header>
    <p v-if="!listed.length" class="soft">Nothing has happened yet: move a stick, or press a button.</p>
    <div v-else class="strips">
      <ul>
        <li v-for="strip in listed" :key="strip.key" :style="{ height: `${row}px` }">
          <button
            type="button"
            :class="{ chosen: chosen === strip.key }"
            :data-strip="strip.key"
            @click="ask(strip, cursor ?? record.to)"
          >
            <span class="label">{{ strip.label }}</span>
            <span class="label value">{{ says(strip) }}</span>
          </button>
        </li>
      </ul>
      <div
        ref="box"
        class="plot"
        tabindex="0"
        role="application"
        aria-label="Strips against time: arrow keys go from change to change, m marks, Escape goes along"
        @keydown="keys"
        @pointerdown="press"
      >
        <canvas ref="canvas" :style="{ width: '100%', height: `${listed.length * row}px` }"></canvas>
      </div>
    </div>
    <p class="acts under">
      <span v-if="cursor !== undefined" class="label" data-cursor>at {{ seconds(cursor) }}, {{ ago }}</span>
      <Button v-if="cursor !== undefined" class="quiet" @click="mark(cursor)">Mark it</Button>
      <span v-if="between" class="label" data-between>{{ between }} between the marks</span>
      <Button v-if="marks.length" class="quiet" @click="marks = []">Take the marks away</Button>
      <label class="label all"
        ><input v-model="everything" type="checkbox" data-everything /> everything</label
      >
      <Button class="quiet" :disabled="!listed.length" @click="save('csv')">Save as CSV</Button>
      <Button class="quiet" :disabled="!listed.length" @click="save('vcd')">Save as VCD</Button>
    </p>
    <div
      v-if="record.because && chosen === record.because.signal"
      class="because"
      aria-live="polite"
      data-because
    >
      <h4>Why did this change?</h4>
      <ol>
        <li v-for="(step, i) in record.because.steps" :key="i">
          <button type="button" class="link" @click="((cursor = step.frame), reveal(step.frame))">
            {{ seconds(step.frame) }}
          </button>
          {{ step.says }}
        </li>
      </ol>
      <template v-if="record.because.missing.length">
        <h4>Why is it not on there?</h4>
        <ul>
          <li v-for="(one, i) in record.because.missing" :key="i">{{ one }}</li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
.record {
  margin-top: 18px;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 14px;
}

h3 {
  font-size: 1.1875rem;
}

h4 {
  margin: 6px 0 2px;
  font-size: 1rem;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}

.acts [aria-pressed='true'] {
  background: var(--ink);
  color: var(--sheet);
}

.strips {
  display: grid;
  grid-template-columns: minmax(0, min(200px, 44%)) minmax(0, 1fr);
  margin: 6px 0;
}

.strips ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

.strips button {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  width: 100%;
  height: 100%;
  padding: 0 8px 0 4px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.strips button .label {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.strips .value {
  flex: 0 0 auto;
  max-width: 45%;
  font-variant-numeric: tabular-nums;
}

.strips button.chosen {
  background: var(--deck);
  font-weight: 650;
}

.plot {
  position: relative;
  border-left: 1px solid var(--ink);
  cursor: crosshair;
}

canvas {
  display: block;
}

.under {
  margin: 4px 0;
}

.all {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 40px;
}

.all input {
  width: 22px;
  height: 22px;
}

.because {
  padding: 4px 12px 8px;
  border-left: 3px solid var(--petrol);
  background: var(--sheet);
}

.because ol,
.because ul {
  margin: 0;
  padding-left: 22px;
}

.because .link {
  min-height: 28px;
  font-variant-numeric: tabular-nums;
}
</style>
