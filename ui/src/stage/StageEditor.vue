<script setup lang="ts">
/** What the picture is made of: which part is moved by which device, where it lies, how large it is. */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import { api } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useBench } from '../stores/bench'
import { useStage } from '../stores/stage'
import { useEdits } from '../stores/edits'

interface Part {
  part: string
  label?: string
  device?: string
  motor?: string
  brake?: string
  at_mm?: [number, number]
  size_mm?: [number, number]
  from?: number
  to?: number
  turned?: boolean
  [other: string]: unknown
}
interface Stage {
  top_mm_s?: number
  coast_s?: number
  wheelbase_mm?: number
  track_mm?: number
  parts?: Part[]
  [other: string]: unknown
}

const bench = useBench()
const drawn = useStage()
const edits = useEdits()
const stage = shallowRef<Stage>({})
const opened = shallowRef<number>()
const problem = shallowRef('')

const devices = computed(() => (bench.view?.behind ?? []).filter((one) => one.part.startsWith('devices/')))
const deviceID = (part: string) => part.slice('devices/'.length)

/** What moves a part, by what people call it. */
function moved(part: Part): string {
  const device = devices.value.find((one) => deviceID(one.part) === part.device)
  return part.device ? `, moved by ${device?.label ?? 'a device that is gone'}` : ''
}

/** The stage as the document has it. */
async function read() {
  const id = bench.model?.id
  if (!id) return
  const answer = await api
    .GET('/api/models/{id}/export', {
      params: { path: { id }, query: { format: 'json' } },
      parseAs: 'text',
    })
    .catch(() => undefined)
  if (typeof answer?.data === 'string') stage.value = JSON.parse(answer.data).stage ?? {}
}
watch(() => bench.model?.revision, read, { immediate: true })

/** Keeps the whole of it as one revision; what is empty is left out. */
async function keep(change: (stage: Stage) => void) {
  const now = structuredClone(stage.value)
  change(now)
  const clean = <T extends object>(of: T) =>
    Object.fromEntries(Object.entries(of).filter(([, v]) => v !== '' && v !== undefined && v !== false))
  const value = clean({ ...now, parts: (now.parts ?? []).map(clean) })
  const outcome = await edits.keep([{ op: 'add', path: '/stage', value }])
  const first = outcome.kept ? undefined : outcome.problem.errors?.[0]
  problem.value = outcome.kept
    ? ''
    : first
      ? `${first.path}: ${first.message}; ${first.remedy}`
      : outcome.problem.title
}

const number = (event: Event) => {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.').replace('−', '-')
  return text === '' || Number.isNaN(Number(text)) ? undefined : Number(text)
}
const text = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value

const whole: { key: 'top_mm_s' | 'coast_s' | 'wheelbase_mm' | 'track_mm'; words: string; unit: string }[] = [
  { key: 'top_mm_s', words: 'Goes at full motors', unit: 'mm/s' },
  { key: 'coast_s', words: 'Comes to speed in', unit: 's' },
  { key: 'wheelbase_mm', words: 'Between the axles', unit: 'mm' },
  { key: 'track_mm', words: 'Between the tracks or wheels', unit: 'mm' },
]
const links: { key: 'device' | 'motor' | 'brake'; words: string; only?: string }[] = [
  { key: 'device', words: 'Moved by' },
  { key: 'motor', words: 'Driven by', only: 'axle' },
  { key: 'brake', words: 'Braked by', only: 'axle' },
]
const pairs: { key: 'at_mm' | 'size_mm'; words: [string, string] }[] = [
  { key: 'at_mm', words: ['Ahead', drawn.picture?.view === 'side' ? 'up' : 'to the right'] },
  { key: 'size_mm', words: ['Length', 'width'] },
]

function setPair(i: number, key: 'at_mm' | 'size_mm', at: 0 | 1, v: number | undefined) {
  void keep((now) => {
    const part = now.parts?.[i]
    if (!part) return
    if (v === undefined) delete part[key]
    else {
      const pair: [number, number] = [...(part[key] ?? (key === 'at_mm' ? [0, 0] : [60, 40]))]
      pair[at] = v
      part[key] = pair
    }
  })
}

const { once } = useOnce()

async function add() {
  await keep((now) => (now.parts = [...(now.parts ?? []), { part: 'dial', label: 'New part' }]))
  opened.value = stage.value.parts?.length ?? 0
}
</script>

<template>
  <section class="editor" aria-label="The picture">
    <h3>What the picture is made of</h3>
    <p v-if="problem" class="fault" role="alert">{{ problem }}</p>
    <div class="fields">
      <label v-for="one in whole" :key="one.key" class="field inline"
        >{{ one.words }}
        <input
          class="box figure"
          inputmode="decimal"
          :value="stage[one.key] ?? ''"
          @change="keep((now) => (now[one.key] = number($event)))"
        />
        {{ one.unit }}</label
      >
    </div>
    <ul>
      <li v-for="(part, i) in stage.parts" :key="i">
        <button
          type="button"
          class="link"
          :aria-expanded="opened === i"
          @click="opened = opened === i ? undefined : i"
        >
          {{ part.label || part.part }}
        </button>
        <span class="soft">{{ part.part }}{{ moved(part) }}</span>
        <div v-if="opened === i" class="fields">
          <label class="field inline"
            >Called
            <input
              class="box"
              :value="part.label ?? ''"
              @change="keep((now) => (now.parts![i]!.label = text($event)))"
          /></label>
          <label class="field inline"
            >Is a
            <select
              class="box"
              :value="part.part"
              @change="keep((now) => (now.parts![i]!.part = text($event)))"
            >
              <option v-for="kind in drawn.picture?.kinds" :key="kind">{{ kind }}</option>
            </select></label
          >
          <template v-for="link in links" :key="link.key">
            <label v-if="!link.only || link.only === part.part" class="field inline"
              >{{ link.words }}
              <select
                class="box"
                :value="part[link.key] ?? ''"
                @change="keep((now) => (now.parts![i]![link.key] = text($event)))"
              >
                <option value="">nothing</option>
                <option v-for="device in devices" :key="device.part" :value="deviceID(device.part)">
                  {{ device.label }}
                </option>
              </select></label
            >
          </template>
          <span v-for="pair in pairs" :key="pair.key" class="field inline">
            <label v-for="at in [0, 1] as const" :key="at"
              >{{ pair.words[at] }}
              <input
                class="box figure"
                inputmode="decimal"
                :value="part[pair.key]?.[at] ?? ''"
                @change="setPair(i, pair.key, at, number($event))"
            /></label>
            mm
          </span>
          <span class="field inline">
            <label
              >From
              <input
                class="box figure"
                inputmode="decimal"
                :value="part.from ?? ''"
                @change="keep((now) => (now.parts![i]!.from = number($event)))"
            /></label>
            <label
              >to
              <input
                class="box figure"
                inputmode="decimal"
                :value="part.to ?? ''"
                @change="keep((now) => (now.parts![i]!.to = number($event)))"
            /></label>
            degrees or mm
          </span>
          <label class="field inline"
            ><input
              type="checkbox"
              :checked="part.turned"
              @change="keep((now) => (now.parts![i]!.turned = ($event.target as HTMLInputElement).checked))"
            />
            its motor is mounted the other way round</label
          >
          <Button class="quiet" @click="keep((now) => now.parts!.splice(i, 1))"
            >Remove from the picture</Button
          >
        </div>
      </li>
    </ul>
    <p class="acts">
      <Button class="quiet" @click="once($event, add)">Add a part</Button>
      <span class="label">What else a part can say stands in the text of the document.</span>
    </p>
  </section>
</template>

<style scoped>
.editor {
  margin-top: 16px;
}

h3 {
  font-size: 1.1875rem;
}

.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  margin: 8px 0;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  border-bottom: 1px solid var(--rule);
}

.link {
  margin-right: 10px;
}

.figure {
  width: 84px;
  font-family: var(--mono);
  text-align: right;
}

input[type='checkbox'] {
  width: 22px;
  height: 22px;
  accent-color: var(--petrol);
}
</style>
