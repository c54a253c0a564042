<script setup lang="ts">
/** One step on the bench, large: what hands do, what each part must do, and what was seen of it. */
import { useEventListener } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, nextTick, onBeforeUnmount, onMounted, shallowRef, useTemplateRef } from 'vue'

import type { Schemas } from '../api/client'
import { gamepadTaker } from '../composables/useGamepad'

type Parts = Schemas['Ticking']['parts']
const props = defineProps<{
  step: Schemas['BenchStep']
  at: number
  ticks: Schemas['WalkTick'][]
  ways: Schemas['WalkWays'][]
  signed: boolean
  once: (event: Event | undefined, act: () => Promise<unknown>) => Promise<void>
  /** Keeps what was seen; false: it was not kept. */
  keep: (parts: Parts) => Promise<boolean>
  photo: (part: string, file: File) => Promise<void>
  photoOf: (part: string) => string
}>()
const emit = defineEmits<{ back: []; next: []; cause: [] }>()

/** What the step does not name: its row is one sentence. */
const rest = 'rest'
const rows = computed(() => [
  ...props.step.parts,
  ...(props.step.rest
    ? [{ of: rest, label: 'All else', should: props.step.rest, channel: 0, display: '' }]
    : []),
])
const whole = computed(() => rows.value.every((row) => tickOf(row.of)))
const tickOf = (part: string) => props.ticks.find((one) => one.part === part)
/** The rows that are opened for what else was seen: a reading, a note, a photograph. */
const opened = shallowRef<string[]>([])
const isOpen = (part: string) => isOther(part) || opened.value.includes(part)
function turn(part: string) {
  const without = opened.value.filter((one) => one !== part)
  opened.value = without.length < opened.value.length ? without : [...without, part]
  void appears(part)
}
const table = useTemplateRef<HTMLElement>('table')
/** What was opened by hand comes into sight, above the buttons that stay at the foot. */
async function appears(part: string) {
  await nextTick()
  table.value?.querySelector(`[data-detail='${CSS.escape(part)}']`)?.scrollIntoView({ block: 'nearest' })
}
const isOther = (part: string) => (tickOf(part)?.seen ?? 'as') !== 'as'
const waysOf = (part: string) => props.ways.find((one) => one.of === part)?.says ?? []
/** What is typed of a part and not kept yet. */
const typed = shallowRef<Record<string, { does?: string; reads?: string; note?: string }>>({})
function type(part: string, field: 'does' | 'reads' | 'note', event: Event) {
  const { value } = event.target as HTMLInputElement
  typed.value = { ...typed.value, [part]: { ...typed.value[part], [field]: value } }
}
const own = (part: string, field: 'does' | 'reads' | 'note') =>
  typed.value[part]?.[field] ?? tickOf(part)?.[field] ?? ''
/** What is kept of a part: what was seen of it, with all that was said besides. */
function saw(part: string, seen: string): Parts[number] {
  const does = seen === 'other' ? own(part, 'does') : ''
  return { part, seen, does, reads: own(part, 'reads'), note: own(part, 'note') }
}
/** Keeps what else was seen; that it is as it should be is meant where nothing was said. */
const detail = (part: string) => props.keep([saw(part, tickOf(part)?.seen ?? 'as')])
async function choose(part: string, event: Event) {
  const box = event.target as HTMLInputElement
  const file = box.files?.[0]
  box.value = ''
  if (file) await props.photo(part, file)
  pictured.value++
}
/** So often a photograph was taken: the newest is shown. */
const pictured = shallowRef(0)

async function all(seen: 'as' | 'nothing') {
  if (!props.signed) {
    const parts = rows.value
      .filter((row) => seen === 'nothing' || !isOther(row.of)) // what was otherwise stays so
      .map((row) => saw(row.of, seen))
    if (!(await props.keep(parts))) return
  }
  if (seen === 'as') emit('next')
}

async function one(part: string, seen: string) {
  const again = tickOf(part)?.seen === seen
  await props.keep([saw(part, again ? '' : seen)])
  await appears(part)
}

const main = useTemplateRef<{ $el: HTMLElement }>('main')
onMounted(async () => {
  await nextTick()
  main.value?.$el.focus({ preventScroll: true })
  gamepadTaker.value = async (moved) => {
    if (moved.button !== undefined) await props.once(undefined, () => all('as'))
    return undefined
  }
})
onBeforeUnmount(() => (gamepadTaker.value = undefined))

useEventListener('keydown', (event: KeyboardEvent) => {
  const own =
    event.target instanceof HTMLElement && event.target.closest('input, textarea, select, button, a')
  if (own || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  if (event.key === ' ') {
    event.preventDefault()
    void props.once(undefined, () => all('as'))
  }
})
</script>

<template>
  <div class="step" data-step>
    <h3>{{ step.does.join(' ') }}</h3>
    <table ref="table">
      <thead>
        <tr class="label">
          <th scope="col">Part</th>
          <th scope="col">should</th>
          <th scope="col">display reads</th>
          <th scope="col"><span class="unseen">What was seen</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in rows" :key="row.of">
          <tr :data-part="row.of">
            <th v-if="row.of === rest" scope="row" colspan="3">{{ row.should }}</th>
            <template v-else>
              <th scope="row">{{ row.label }}</th>
              <td>{{ row.should }}</td>
              <td class="fig reads">
                <template v-if="row.channel">Ch {{ row.channel }} {{ row.display }}</template>
              </td>
            </template>
            <td class="seen chosen">
              <Button
                class="quiet"
                :aria-pressed="tickOf(row.of)?.seen === 'as'"
                :disabled="signed"
                :aria-label="`${row.label}: as it should`"
                @click="once($event, () => one(row.of, 'as'))"
                >as it should</Button
              >
              <Button
                class="quiet"
                :aria-pressed="tickOf(row.of)?.seen === 'other' || tickOf(row.of)?.seen === 'nothing'"
                :disabled="signed"
                :aria-label="`${row.label}: otherwise`"
                @click="once($event, () => one(row.of, 'other'))"
                >otherwise</Button
              >
              <Button
                class="quiet more"
                :aria-expanded="isOpen(row.of)"
                :aria-label="`${row.label}: a reading, a note, a photograph`"
                @click="turn(row.of)"
                >…</Button
              >
            </td>
          </tr>
          <tr v-if="isOpen(row.of)" class="other" :data-detail="row.of">
            <td colspan="4">
              <form @submit.prevent="once($event, () => detail(row.of))">
                <label v-if="isOther(row.of) && waysOf(row.of).length"
                  >What it does instead
                  <select
                    class="box"
                    data-does
                    :value="own(row.of, 'does')"
                    :disabled="signed"
                    @change="type(row.of, 'does', $event)"
                  >
                    <option value="">not said</option>
                    <option v-for="way in waysOf(row.of)" :key="way.key" :value="way.key">
                      {{ way.words }}
                    </option>
                  </select></label
                >
                <label v-if="row.channel"
                  >The display reads
                  <input
                    class="box fig"
                    data-reads
                    size="7"
                    maxlength="40"
                    :placeholder="row.display"
                    :value="own(row.of, 'reads')"
                    :disabled="signed"
                    @input="type(row.of, 'reads', $event)"
                /></label>
                <label class="note"
                  >A note
                  <input
                    class="box"
                    data-note
                    maxlength="500"
                    :value="own(row.of, 'note')"
                    :disabled="signed"
                    @input="type(row.of, 'note', $event)"
                /></label>
                <Button class="quiet" type="submit" :disabled="signed">Keep it</Button>
                <label v-if="!signed && tickOf(row.of)" class="button file"
                  >{{ tickOf(row.of)?.photo ? 'Another photograph' : 'Add a photograph'
                  }}<input
                    type="file"
                    accept="image/*"
                    capture="environment"
                    @change="once(undefined, () => choose(row.of, $event))"
                /></label>
                <Button v-if="isOther(row.of)" class="quiet" data-cause @click="emit('cause')"
                  >What can it be?</Button
                >
                <a v-if="tickOf(row.of)?.photo" :href="photoOf(row.of)" target="_blank"
                  ><img :src="`${photoOf(row.of)}&${pictured}`" :alt="`${row.label}, as it was seen`"
                /></a>
              </form>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <div class="acts">
      <Button ref="main" class="main" data-all @click="once($event, () => all('as'))"
        >{{ signed ? 'Next' : 'All as it should' }}&nbsp;<span class="forKeys">· space</span></Button
      >
      <Button v-if="!signed" class="quiet" data-nothing @click="once($event, () => all('nothing'))"
        >Nothing moves</Button
      >
      <Button class="quiet" :disabled="at === 0" @click="emit('back')">Back</Button>
      <Button class="quiet" @click="emit('next')">{{ whole ? 'Next' : 'Skip it' }}</Button>
    </div>
  </div>
</template>

<style scoped>
h3 {
  margin: 0 0 12px;
  font-size: 1.75rem;
  line-height: 1.2;
}

table {
  width: 100%;
  border-collapse: collapse;
  font-size: 1.125rem;
}

thead th {
  text-align: left;
  font-weight: 400;
  border-bottom: 1.5px solid var(--ink);
}

tbody th {
  text-align: left;
  padding-right: 14px;
}

tbody th[colspan] {
  font-weight: 400;
}

tbody tr > * {
  padding-block: 3px;
  border-bottom: 1px solid var(--rule);
}

td {
  padding-right: 12px;
}

.reads {
  white-space: nowrap;
}

.seen {
  padding-right: 0;
  text-align: right;
  white-space: nowrap;
}

.seen > * {
  margin-left: 6px;
}

.other {
  scroll-margin-bottom: 76px;
}

.other form {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  font-size: var(--text);
}

.other label:not(.button) {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}

.other .note {
  flex: 1 1 260px;
}

.other .note input {
  flex: 1;
  min-width: 0;
}

.other img {
  display: block;
  height: 64px;
}

.more {
  min-width: 40px;
}

.acts {
  position: sticky;
  bottom: -20px; /* what lies below in the place is its padding */
  margin-top: 6px;
  padding-block: 8px;
  background: var(--ground);
}

.main {
  min-height: 48px;
  padding-inline: 22px;
  font-size: 1.1875rem;
}

/* a part becomes a small stack where there is no width for a table */
@container main (max-width: 720px) {
  thead {
    display: none;
  }

  table,
  tbody {
    display: block;
  }

  tr {
    display: grid;
    grid-template-columns: 1fr auto;
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
  }

  tbody tr > * {
    border-bottom: 0;
    padding: 0;
  }

  .reads {
    grid-column: 1;
  }

  .seen {
    grid-row: 1 / span 3;
    grid-column: 2;
    display: grid;
    gap: 4px;
  }

  .other {
    scroll-margin-bottom: 112px;
  }

  .other > td {
    grid-column: 1 / -1;
  }

  h3 {
    font-size: 1.4375rem;
  }

  .main {
    flex: 1 0 100%;
  }
}
</style>
