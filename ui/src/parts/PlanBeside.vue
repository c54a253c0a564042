<script setup lang="ts">
/** What goes with the plan: what cannot be met, what would change, what is usually asked, both ends. */
import Button from 'primevue/button'
import { computed } from 'vue'

import type { Patch, Plan } from '../api/client'
import { capital } from '../figures'
import { useOnce } from '../composables/useOnce'
import LeadsPower from './LeadsPower.vue'
import PinCodes from './PinCodes.vue'

const props = defineProps<{ id: string; plan: Plan; current: boolean }>()
const emit = defineEmits<{ carry: [event: Event]; ask: [patch: Patch] }>()
const { once } = useOnce()

/** What changes, for each function or lever in one place. */
const changed = computed(() => {
  const groups = new Map<string, { of: string; label: string; list: Plan['changes'] }>()
  for (const one of props.plan.changes) {
    const group = groups.get(one.of) ?? { of: one.of, label: one.label, list: [] }
    group.list.push(one)
    groups.set(one.of, group)
  }
  return [...groups.values()]
})
</script>

<template>
  <aside>
    <section v-if="plan.conflict.length" data-conflict>
      <h3>What cannot be met together</h3>
      <ul class="found">
        <li v-for="one in plan.conflict" :key="`${one.of} ${one.ask}`">
          <span class="mark" aria-hidden="true">▲</span>
          <p>
            {{ capital(one.says) }}.
            <span class="soft">To free it: {{ one.free }}.</span>
          </p>
        </li>
      </ul>
    </section>

    <section v-if="plan.changes.length" data-changes>
      <h3>What would change</h3>
      <dl>
        <template v-for="group in changed" :key="group.of">
          <dt>{{ group.label }}</dt>
          <dd v-for="one in group.list" :key="`${one.what} ${one.was}`">
            <template v-if="one.what === 'loss'">store again what it does on a lost signal</template>
            <template v-else
              >{{ one.was }} <span aria-hidden="true">→</span><span class="unseen">becomes</span>
              {{ one.is }}</template
            >
          </dd>
        </template>
      </dl>
      <Button :disabled="!current" data-carry @click="emit('carry', $event)">Carry it out</Button>
      <p class="label">
        One change of the model, taken back by Undo. The leads are then to be plugged as it says, with the
        power off.
      </p>
    </section>

    <section v-if="plan.proposals.length" data-proposals>
      <h3>What is usually asked for</h3>
      <ul class="found">
        <li v-for="one in plan.proposals" :key="one.says">
          <span class="mark" aria-hidden="true">▲</span>
          <p>
            {{ one.says }}: {{ one.why }}.
            <button
              type="button"
              class="link"
              :disabled="!current"
              :aria-label="`ask for it: ${one.says}`"
              @click="once($event, async () => emit('ask', one.patch))"
            >
              ask for it
            </button>
          </p>
        </li>
      </ul>
    </section>

    <LeadsPower :id="id" />
    <PinCodes :id="id" />

    <section v-if="plan.ends.length">
      <h3>At both ends</h3>
      <p class="label">The channel on which it is sent, the one on which the receiver gets it, its pin.</p>
      <table>
        <thead>
          <tr class="label">
            <th scope="col">Lever, function</th>
            <th scope="col">Sent</th>
            <th scope="col">Got</th>
            <th scope="col">Pin</th>
            <th scope="col">When lost</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(end, i) in plan.ends" :key="i">
            <th scope="row">
              {{ end.lever }} <span class="label">{{ end.label }}</span>
            </th>
            <td class="fig">{{ end.channel || '–' }}</td>
            <td class="fig">{{ end.link || '–' }}</td>
            <td>
              <span class="fig">{{ end.pin || '–' }}</span>
              <span v-if="end.receiver" class="label rx">{{ end.receiver }}</span>
            </td>
            <td>{{ end.loss }}</td>
          </tr>
        </tbody>
      </table>
      <template v-for="one in plan.keyed" :key="one.where">
        <h4 v-if="one.says.length">{{ one.where }}</h4>
        <ul v-if="one.says.length" class="keyed">
          <li v-for="line in one.says" :key="line">{{ capital(line) }}.</li>
        </ul>
      </template>
    </section>
  </aside>
</template>

<style scoped>
aside > * + * {
  margin-top: 18px;
}

h3 {
  font-size: 1.1875rem;
  margin-bottom: 6px;
}

h4 {
  margin: 12px 0 2px;
  font-size: 1rem;
}

dl {
  margin: 0 0 10px;
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 0 12px;
}

dt {
  grid-column: 1;
  font-weight: 700;
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}

dd {
  grid-column: 2;
  margin: 0;
  padding: 2px 0;
}

dt + dd {
  border-top: 1px solid var(--rule);
  padding-top: 4px;
}

.keyed {
  margin: 0;
  padding-left: 20px;
}

table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
  font-size: 0.9375rem;
}

th {
  text-align: left;
  font-weight: 400;
}

thead th:nth-child(1) {
  width: 44%;
}

thead th:nth-child(5) {
  width: 27%;
}

thead th {
  border-bottom: 1.5px solid var(--ink);
  vertical-align: bottom;
}

tbody tr > * {
  border-bottom: 1px solid var(--rule);
  padding: 4px 6px 4px 0;
  vertical-align: top;
  overflow-wrap: anywhere;
}

tbody th .label,
.rx {
  display: block;
}
</style>
