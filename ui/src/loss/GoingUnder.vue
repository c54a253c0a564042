<script setup lang="ts">
/** How far down the radio reaches, and how deep the boat gets: in ranges, each with its arithmetic. */
import { computed } from 'vue'

import type { Schemas } from '../api/client'
import PartForm from '../parts/PartForm.vue'

const props = defineProps<{ told: Schemas['UnderTold'] }>()
/** The bars of metres share one scale. */
const most = computed(() => {
  const of = (unit: string) =>
    Math.max(...props.told.bars.filter((b) => b.unit === unit).map((b) => b.most), 0.01)
  return { m: of('m'), s: of('s') } as Record<string, number>
})
const share = (v: number, unit: string) => `${(100 * v) / (most.value[unit] ?? 1)}%`
</script>

<template>
  <section class="under" aria-label="Going under">
    <div v-for="bar in told.bars" :key="bar.label" class="bar" :data-bar="bar.label">
      <span>{{ bar.label }}</span>
      <b class="fig">{{ bar.open ? `${bar.says}, or more` : bar.says }}</b>
      <span class="track" aria-hidden="true"
        ><span
          class="span"
          :class="{ open: bar.open }"
          :style="{
            left: share(bar.least, bar.unit),
            width: bar.open ? '100%' : `max(4px, ${share(bar.most - bar.least, bar.unit)})`,
          }"
      /></span>
      <details>
        <summary>why?</summary>
        <p v-for="line in bar.why" :key="line">{{ line }}</p>
      </details>
    </div>
    <p v-for="line in told.says" :key="line">{{ line }}</p>
    <ul v-if="told.missing.length">
      <li v-for="line in told.missing" :key="line">{{ line }}</li>
    </ul>
    <PartForm part="under" />
    <p class="soft">
      These are ranges, worked out from what was said and what is usual; keep the boat on a line until you
      have seen it come up. People in the water come first, and so do the rules of the site.
    </p>
  </section>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 200px 150px minmax(80px, 1fr);
  gap: 2px 12px;
  align-items: center;
  min-height: var(--row);
  border-bottom: 1px solid var(--rule);
}

.track {
  position: relative;
  height: 10px;
  border-left: 2px solid var(--ink);
  overflow: hidden;
}

.span {
  position: absolute;
  top: 1px;
  height: 8px;
  background: var(--petrol);
}

.span.open {
  background: repeating-linear-gradient(90deg, var(--petrol) 0 8px, transparent 8px 12px);
}

details {
  grid-column: 1 / -1;
  font-size: 0.9375rem;
}

summary {
  cursor: pointer;
  min-height: 28px;
}

p {
  margin: 4px 0;
}

@container main (max-width: 720px) {
  .bar {
    grid-template-columns: minmax(0, 1fr) auto;
  }

  .track {
    grid-column: 1 / -1;
  }
}
</style>
