<script setup lang="ts">
/** A run drawn by hand: a strip a control, over which a line is drawn; kept with the model by a name. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { computed, shallowRef, triggerRef, useId, watch } from 'vue'

import { type Problem, type Recording } from '../api/client'
import { typed } from '../figures'
import { useBench } from '../stores/bench'
import { usePlayer } from '../stores/player'
import { atRest, drawn, ends, heldFrom, isDrawn, lasting, perSecond, script, type Strip } from './drawn'

const visible = defineModel<boolean>('visible', { required: true })
const emit = defineEmits<{ kept: [Recording] }>()
const bench = useBench()
const player = usePlayer()

const lengths = [5, 10, 20, 60]
const seconds = shallowRef(10)
const strips = shallowRef<Strip[]>([])
/** The place of time at which the fields beside the strips stand. */
const pen = shallowRef(0)
const name = shallowRef('')
const problem = shallowRef<Problem>()
const fields = useId()

watch(
  visible,
  (on) => {
    if (!on) return
    strips.value = atRest(bench.view?.controls ?? [], seconds.value)
    pen.value = 0
    name.value = ''
    problem.value = undefined
  },
  { immediate: true },
)
watch(seconds, (s) => {
  strips.value = strips.value.map((one) => lasting(one, s))
  pen.value = Math.min(pen.value, s * perSecond)
})

const width = computed(() => seconds.value * perSecond)
const high = 60
function line(strip: Strip): string {
  const [low, top] = ends(strip.control)
  const y = (v: number) => high - 4 - ((high - 8) * (v - low)) / (top - low)
  if (strip.control.kind === 'axis') return 'M' + strip.at.map((v, i) => `${i} ${y(v).toFixed(1)}`).join('L')
  return `M0 ${y(strip.at[0] ?? 0)}` + strip.at.map((v, i) => `H${i}V${y(v).toFixed(1)}`).join('')
}

function put(i: number, strip: Strip) {
  strips.value[i] = strip
  triggerRef(strips)
}

let last: { i: number; at: number; value: number } | undefined
/** Where a pointer is on a strip, in its own time and values. */
function under(event: PointerEvent, strip: Strip) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const [low, top] = ends(strip.control)
  const share = (event.clientY - box.top - 4) / Math.max(box.height - 8, 1)
  const at = Math.round((width.value * (event.clientX - box.left)) / Math.max(box.width, 1))
  const value = top - share * (top - low)
  return {
    at: Math.min(Math.max(at, 0), width.value),
    value: Math.min(Math.max(strip.control.kind === 'switch' ? Math.round(value) : value, low), top),
  }
}
function press(event: PointerEvent, i: number, strip: Strip) {
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  last = { i, ...under(event, strip) }
  trace(event, i, strip)
}
function trace(event: PointerEvent, i: number, strip: Strip) {
  if (last?.i !== i) return
  const now = under(event, strip)
  put(i, drawn(strip, last.at, last.value, now.at, now.value))
  last = { i, ...now }
  pen.value = now.at
}
function lift() {
  last = undefined
}

/** From the pen on it stands elsewhere. */
function hold(i: number, strip: Strip, text: string) {
  const value = typed(text)
  if (value !== undefined) put(i, heldFrom(strip, pen.value, value))
}

async function keep() {
  const called = name.value.trim() || `drawn, ${player.recordings.length + 1}`
  const outcome = await player.keep(called, { text: script(strips.value, seconds.value), exact: true })
  problem.value = outcome.problem
  if (!outcome.kept) return
  visible.value = false
  emit('kept', outcome.kept)
}
const empty = computed(() => !strips.value.some(isDrawn))
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Draw a run" :style="{ width: 'min(980px, 96vw)' }">
    <p class="soft">
      Draw with the finger or the mouse how each lever and switch goes. Or choose a moment, and set where it
      stands from then on.
    </p>
    <div class="acts">
      <label
        >It lasts
        <select v-model.number="seconds" class="box">
          <option v-for="one in lengths" :key="one" :value="one">{{ one }} s</option>
        </select></label
      >
      <label class="moment"
        >Moment
        <input
          v-model.number="pen"
          type="range"
          min="0"
          :max="width"
          :aria-valuetext="`${(pen / perSecond).toFixed(1)} seconds`"
        />
        <span class="fig">{{ (pen / perSecond).toFixed(1) }} s</span></label
      >
    </div>
    <ul>
      <li v-for="(strip, i) in strips" :key="strip.control.id" :data-strip="strip.control.id">
        <label :for="`${fields}-${i}`">{{ strip.control.label }}</label>
        <svg
          :viewBox="`0 0 ${width} ${high}`"
          preserveAspectRatio="none"
          aria-hidden="true"
          @pointerdown.prevent="press($event, i, strip)"
          @pointermove="trace($event, i, strip)"
          @pointerup="lift"
          @pointercancel="lift"
        >
          <line
            v-for="s in seconds + 1"
            :key="s"
            class="second"
            :x1="(s - 1) * perSecond"
            :x2="(s - 1) * perSecond"
            y1="0"
            :y2="high"
          />
          <line class="middle" x1="0" :x2="width" :y1="high / 2" :y2="high / 2" />
          <path class="way" :d="line(strip)" />
          <line class="pen" :x1="pen" :x2="pen" y1="0" :y2="high" />
        </svg>
        <select
          v-if="strip.control.kind === 'switch'"
          :id="`${fields}-${i}`"
          class="box"
          :value="strip.at[pen]"
          @change="hold(i, strip, ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="(position, k) in strip.control.positions" :key="position" :value="k">
            {{ strip.control.words?.[k] ?? position }}
          </option>
        </select>
        <input
          v-else
          :id="`${fields}-${i}`"
          class="box fig"
          type="number"
          min="-100"
          max="100"
          step="5"
          :value="strip.at[pen]"
          @change="hold(i, strip, ($event.target as HTMLInputElement).value)"
        />
      </li>
    </ul>
    <p v-if="strips.length === 0" class="soft">There is no stick or switch yet: add one in Kit.</p>
    <form v-else class="acts" @submit.prevent="keep">
      <label :for="`${fields}-name`">Keep it as</label>
      <input
        :id="`${fields}-name`"
        v-model="name"
        class="box"
        autocomplete="off"
        maxlength="80"
        placeholder="out, about and back"
      />
      <Button type="submit" :disabled="empty">Cut the signal at every moment of it</Button>
      <span v-if="empty" class="soft">Nothing is drawn yet.</span>
    </form>
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 10px 0;
  padding: 0;
}

li {
  display: grid;
  grid-template-columns: 130px 1fr 104px;
  gap: 4px 12px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}

svg {
  width: 100%;
  height: 60px;
  background: var(--deck);
  touch-action: none;
  cursor: crosshair;
}

line,
path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.second,
.middle {
  stroke: var(--rule);
}

.way {
  stroke: var(--ink);
  stroke-width: 2.5;
}

.pen {
  stroke: var(--petrol);
  stroke-width: 2;
}

form {
  position: sticky;
  bottom: 0;
  padding: 8px 0;
  background: var(--sheet);
}

.moment {
  display: flex;
  flex: 1 1 260px;
  align-items: center;
  gap: 8px;
}

.moment input {
  flex: 1;
  accent-color: var(--petrol);
}

@media (max-width: 640px) {
  li {
    grid-template-columns: 1fr 104px;
  }

  svg {
    grid-row: 2;
    grid-column: 1 / -1;
  }
}
</style>
