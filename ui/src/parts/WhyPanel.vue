<script setup lang="ts">
/** Why this number? The arithmetic as the core did it, causes first. */
import { computed } from 'vue'

import type { Reason } from '../api/client'
import { figure } from '../figures'

const props = defineProps<{ reason?: Reason }>()

interface Step {
  key: string
  name: string
  sum: string
  value: string
}

/** The tree as lines: what a step is worked out from stands above it. */
function lines(reason: Reason, key: string): Step[] {
  const above = (reason.from ?? []).flatMap((cause, i) => lines(cause, `${key}.${i}`))
  return [
    ...above,
    { key, name: reason.name, sum: reason.sum ?? '', value: figure(reason.value, reason.unit) },
  ]
}

/** A name of so many letters stands in one line. */
const short = 16

const steps = computed(() => (props.reason ? lines(props.reason, '0') : []))
const answer = computed(() => steps.value.at(-1))
</script>

<template>
  <section v-if="reason && answer" class="why" aria-label="Why this number?">
    <p class="label">Why {{ answer.value }} {{ reason.unit }}?</p>
    <table>
      <tbody>
        <tr v-for="step in steps" :key="step.key">
          <th scope="row" :class="{ short: step.name.length <= short }" :colspan="step.sum ? 1 : 2">
            {{ step.name }}
          </th>
          <td v-if="step.sum" class="fig sum">{{ step.sum }}</td>
          <td class="fig value">{{ step.value.padStart(6) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.why {
  min-width: 0;
}

table {
  margin-top: 4px;
  border-collapse: collapse;
  width: 100%;
}

th {
  font-weight: 400;
  font-size: var(--label);
  color: var(--soft);
  text-align: left;
  vertical-align: baseline;
  padding: 1px 10px 1px 0;
  line-height: 1.2;
}

tr + tr > * {
  border-top: 1px solid var(--rule);
}

.short {
  white-space: nowrap;
}

td {
  font-size: var(--label);
  line-height: 1.25;
  padding: 1px 0;
  vertical-align: baseline;
}

.sum {
  width: 100%;
  white-space: pre-wrap;
}

.value {
  text-align: right;
  padding-left: 8px;
  white-space: pre;
}
</style>
