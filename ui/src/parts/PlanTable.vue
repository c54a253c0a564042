<script setup lang="ts">
/**
 * What goes where: a row for each function, one for each lever. A reason opens what another choice would
 * cost, and what can be fixed by hand; a row is dragged onto another one to exchange their places.
 */
import { shallowRef } from 'vue'

import type { Act, Plan, PlanFunction, PlanHand } from '../api/client'
import PlanChoice from './PlanChoice.vue'
import PlanWhy from './PlanWhy.vue'

defineProps<{ id: string; plan: Plan; current: boolean }>()
const emit = defineEmits<{ act: [act: Act] }>()
const opened = shallowRef<string>()
const toggle = (of: string) => (opened.value = opened.value === of ? undefined : of)

const pins = (f: PlanFunction) => f.leads.map((l) => (l.y ? 'Y' : l.number || '?')).join(', ')
const moved = (f: PlanFunction) => f.channel !== f.was_channel || f.leads.some((l) => l.pin !== l.was_pin)
const dragged = shallowRef<PlanFunction>()
function drop(onto: PlanFunction) {
  const from = dragged.value
  dragged.value = undefined
  const to = onto.leads[0]?.was_pin
  if (from && to && from !== onto) emit('act', { act: 'put', part: `outputs/${from.of}`, to })
}

const name = (h: PlanHand) => h.moves.join(', ') || 'nothing yet'
</script>

<template>
  <div>
    <table :class="{ several: plan.functions.some((f) => f.leads[0]?.receiver) }">
      <thead>
        <tr class="label">
          <th scope="col">Function</th>
          <th scope="col">Ch</th>
          <th scope="col">Pin</th>
          <th scope="col">Lever</th>
          <th scope="col">Why there</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="f in plan.functions" :key="f.of">
          <tr
            :data-plan="f.of"
            :draggable="current && f.leads.length === 1"
            :class="{ moved: moved(f), over: dragged && dragged !== f }"
            @dragstart="dragged = f"
            @dragend="dragged = undefined"
            @dragover="dragged && $event.preventDefault()"
            @drop.prevent="drop(f)"
          >
            <th scope="row">
              <RouterLink :to="{ name: 'functions', params: { id }, query: { line: f.of } }">{{
                f.label
              }}</RouterLink>
            </th>
            <td class="fig"><span class="label small">Ch</span>{{ f.channel || '–' }}</td>
            <td>
              <span class="label small">Pin</span><span class="fig">{{ pins(f) || '–' }}</span>
              <span v-if="f.leads[0]?.receiver" class="label of">{{ f.leads[0].receiver }}</span>
            </td>
            <td>{{ f.lever }}</td>
            <td class="why">
              <PlanWhy
                :of="`outputs/${f.of}`"
                :why="f.why"
                :says="`${f.label} is there`"
                :kept="f.kept"
                :opened="opened === `outputs/${f.of}`"
                @toggle="toggle(`outputs/${f.of}`)"
              />
            </td>
          </tr>
          <tr v-if="opened === `outputs/${f.of}`" class="open">
            <td colspan="5">
              <PlanChoice
                :id="id"
                :of="`outputs/${f.of}`"
                what="place"
                :name="f.label"
                :why="f.why"
                :asks="f.asks"
                :kept="f.kept"
                :places="f.leads.length === 1 ? plan.places.pins : []"
                :current="current"
                @act="emit('act', $event)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p class="label under">
      {{ plan.unused.says }} <span class="kept" aria-hidden="true">◆</span> is fixed by you. Choose a reason
      to see what another place would cost, or drag a function onto another one to exchange them.
    </p>

    <h3>Under which lever</h3>
    <table class="hands">
      <thead>
        <tr class="label">
          <th scope="col">Lever</th>
          <th scope="col">Moves</th>
          <th scope="col">Why there</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="h in plan.hands" :key="h.of">
          <tr :data-hand="h.of" :class="{ moved: h.control !== h.was }">
            <th scope="row">{{ h.label || 'none' }}</th>
            <td>{{ name(h) }}</td>
            <td class="why">
              <PlanWhy
                :of="h.of"
                :why="h.why"
                :says="`${h.label || 'it'} moves ${name(h)}`"
                :kept="h.kept"
                :opened="opened === h.of"
                @toggle="toggle(h.of)"
              />
            </td>
          </tr>
          <tr v-if="opened === h.of" class="open">
            <td colspan="3">
              <PlanChoice
                :id="id"
                :of="h.of"
                what="control"
                :name="name(h)"
                :why="h.why"
                :asks="h.asks"
                :kept="h.kept"
                :held="h.held"
                :places="h.held || !h.was ? [] : plan.places.controls"
                :current="current"
                @act="emit('act', $event)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="!plan.hands.length" class="soft">No lever moves anything yet.</p>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
}

th {
  text-align: left;
}

thead th {
  font-weight: 400;
  border-bottom: 1.5px solid var(--ink);
  padding: 2px 8px 4px 0;
}

thead th:nth-child(1) {
  width: 24%;
}

thead th:nth-child(2) {
  width: 36px;
}

thead th:nth-child(3) {
  width: 58px;
}

.several thead th:nth-child(3) {
  width: 96px;
}

.several .of {
  display: block;
}

thead th:nth-child(4) {
  width: 24%;
}

.hands thead th:nth-child(1) {
  width: 30%;
}

.hands thead th:nth-child(2) {
  width: 30%;
}

.hands thead th:nth-child(3) {
  width: auto;
}

tbody tr:not(.open) > * {
  border-bottom: 1px solid var(--rule);
  padding: 6px 8px 6px 0;
  overflow-wrap: anywhere;
  vertical-align: middle;
}

tbody th a {
  color: inherit;
  text-decoration: none;
}

tbody th a:hover {
  text-decoration: underline;
}

.small {
  display: none;
}

/* where there is no width a row is a few lines: what it is, where, why */
@container main (max-width: 560px) {
  thead {
    display: none;
  }

  tbody tr:not(.open) {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 2px 14px;
    padding: 8px 0;
    border-bottom: 1px solid var(--rule);
  }

  tbody tr:not(.open) > * {
    border: 0;
    padding: 0;
  }

  tbody tr:not(.open) > th,
  .why {
    flex-basis: 100%;
  }

  .open,
  .open > td {
    display: block;
  }

  .several .of {
    display: inline;
    margin-left: 6px;
  }

  .small {
    display: inline;
    margin-right: 4px;
  }
}

.moved > td:nth-child(2),
.moved > td:nth-child(3) .fig {
  font-weight: 700;
}

.over {
  outline: 1px dashed var(--petrol);
  outline-offset: -2px;
}

.open > td {
  padding: 8px 0 14px 16px;
  border-bottom: 1px solid var(--rule);
}

.kept {
  color: var(--ink);
  margin-right: 6px;
}

.under {
  margin: 8px 0 18px;
}

h3 {
  font-size: 1.1875rem;
  margin-bottom: 6px;
}
</style>
