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
  signed: boolean
  once: (event: Event | undefined, act: () => Promise<unknown>) => Promise<void>
  keep: (parts: Parts) => Promise<void>
}>()
const emit = defineEmits<{ back: []; next: [] }>()

const rows = computed(() => [
  ...props.step.parts,
  ...(props.step.rest
    ? [{ of: 'rest', label: 'All else', should: rest(props.step.rest), channel: 0, display: '' }]
    : []),
])
/** What all else must do, in its row: All else stays as it was, Nothing moves. */
function rest(says: string): string {
  const own = says.replace(/^All else /, '').replace(/\.$/, '')
  return own.charAt(0).toLowerCase() + own.slice(1)
}
const whole = computed(() => rows.value.every((row) => tickOf(row.of)))
const tickOf = (part: string) => props.ticks.find((one) => one.part === part)
const noted = shallowRef<Record<string, string>>({})

async function all(seen: 'as' | 'nothing') {
  if (!props.signed) {
    const parts = rows.value
      .filter((row) => seen === 'nothing' || tickOf(row.of)?.seen !== 'other')
      .map((row) => ({ part: row.of, seen, note: '' }))
    await props.keep(parts)
  }
  if (seen === 'as') emit('next')
}

function one(part: string, seen: string, note = '') {
  const again = tickOf(part)?.seen === seen && !note
  return props.keep([{ part, seen: again ? '' : seen, note }])
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
    <table>
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
            <th scope="row">{{ row.label }}</th>
            <td>{{ row.should }}</td>
            <td class="fig reads">
              <template v-if="row.channel">Ch {{ row.channel }} {{ row.display }}</template>
            </td>
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
            </td>
          </tr>
          <tr v-if="tickOf(row.of) && tickOf(row.of)?.seen !== 'as'" class="other">
            <td colspan="4">
              <form
                @submit.prevent="
                  once($event, () => one(row.of, tickOf(row.of)?.seen ?? 'other', noted[row.of] ?? ''))
                "
              >
                <label :for="`note-${row.of}`">{{
                  tickOf(row.of)?.seen === 'nothing' ? 'Nothing moved. What was it?' : 'What did it do?'
                }}</label>
                <input
                  :id="`note-${row.of}`"
                  class="box"
                  maxlength="500"
                  :value="noted[row.of] ?? tickOf(row.of)?.note"
                  :disabled="signed"
                  @input="noted = { ...noted, [row.of]: ($event.target as HTMLInputElement).value }"
                />
                <Button class="quiet" type="submit" :disabled="signed">Note it</Button>
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

.other form {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}

.other input {
  flex: 1 1 220px;
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
