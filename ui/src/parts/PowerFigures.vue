<script setup lang="ts">
/** Figures of the power, each with its limit, its why, and what to do where it is beyond it. */
import { shallowRef } from 'vue'

import type { PowerFigure } from '../api/client'

defineProps<{ figures: PowerFigure[] }>()
/** The place of the figure whose arithmetic is told; two may be called alike. */
const asked = shallowRef<number>()
const toggle = (at: number) => (asked.value = asked.value === at ? undefined : at)
const written = (v: number) => (Number.isInteger(v) ? v.toString() : v.toFixed(v < 10 ? 2 : 1))
</script>

<template>
  <dl v-if="figures.length">
    <template v-for="(one, i) in figures" :key="i">
      <dt>{{ one.label }}</dt>
      <dd :class="{ bad: one.bad }">
        <b class="fig">{{ written(one.value) }} {{ one.unit }}</b>
        <span v-if="one.says" class="soft">{{ one.says }}</span>
        <span v-if="one.bad" class="unseen">: too much or too little.</span>
        <button
          type="button"
          class="link"
          :aria-expanded="asked === i"
          :aria-label="`why? ${one.label}`"
          @click="toggle(i)"
        >
          why?
        </button>
        <p v-if="one.bad" class="do">To do: {{ one.do }}.</p>
        <p v-if="asked === i" class="soft arithmetic">{{ one.why }}.</p>
      </dd>
    </template>
  </dl>
</template>

<style scoped>
dl {
  margin: 0;
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
}

dt,
dd {
  margin: 0;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}

dt {
  padding-right: 8px;
}

dd .fig {
  margin-right: 8px;
}

dd button {
  min-height: 24px;
  margin-left: 6px;
}

.bad .fig {
  color: var(--danger);
}

.arithmetic,
.do {
  overflow-wrap: anywhere;
}
</style>
