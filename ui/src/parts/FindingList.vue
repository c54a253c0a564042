<script setup lang="ts">
/** What was found in a place, the worst first, each leading to the part that it is about. */
import { computed } from 'vue'

import { useBench } from '../stores/bench'

const props = defineProps<{
  place: string
  /** Of one rule alone, or of all but some. */
  rule?: string
  but?: string[]
  /** What is said where nothing was found; without it there is nothing to see then. */
  none?: string
  /** The heading above the list. */
  title?: string
}>()
const bench = useBench()
const found = computed(
  () =>
    bench.whole?.rail.findings.filter(
      (f) =>
        f.place === props.place && !props.but?.includes(f.rule) && (!props.rule || f.rule === props.rule),
    ) ?? [],
)
const marks = { error: '!', warning: '▲', note: '·' }
const said = { error: 'can hurt', warning: 'look at it', note: 'note' }
</script>

<template>
  <h3 v-if="title && (found.length || none)" class="finds">{{ title }}</h3>
  <ul v-if="found.length" class="found">
    <li v-for="(one, i) in found" :key="i" :class="one.severity">
      <span class="mark" aria-hidden="true">{{ marks[one.severity] }}</span>
      <p>
        <span class="unseen">{{ said[one.severity] }}: </span>{{ one.message }}.
        <span class="soft">To do: {{ one.remedy }}.</span>
        {{ ' ' }}
        <RouterLink
          v-if="one.part"
          class="go"
          :to="{ name: one.leads, params: { id: bench.model?.id }, query: { part: one.part } }"
          >go there</RouterLink
        >
      </p>
    </li>
  </ul>
  <p v-else-if="none" class="soft">{{ none }}</p>
</template>

<style scoped>
.error .mark {
  color: var(--danger);
}
</style>
