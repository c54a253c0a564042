<script setup lang="ts">
/** The line along the travel of one control, from the hand to the servo, with the point where it is now. */
import { computed, onScopeDispose, watch } from 'vue'

import { percent, pulse } from '../figures'
import { useBench } from '../stores/bench'
import { useJoint } from '../stores/joint'
import { joined, nearest, plotOf } from './plot'
import PlotGrid from './PlotGrid.vue'

const props = defineProps<{ control: string; output: string; name: string }>()
const bench = useBench()
const joint = useJoint()
watch([() => props.control, () => props.output], () => joint.draw(props.control, props.output), {
  immediate: true,
})
onScopeDispose(() => joint.draw('', ''))

const plot = plotOf(320, 190)
const { x, y } = plot
const path = computed(() => joined(plot, joint.plot ?? []))

const label = computed(() => bench.view?.controls.find((c) => c.id === props.control)?.label ?? props.control)
const at = computed(() => {
  const control = bench.view?.controls.find((c) => c.id === props.control)
  return control ? (bench.values[control.value] ?? 0) : 0
})
const here = computed(() => {
  const near = nearest(joint.plot ?? [], at.value)
  return { p: near[1] ?? 0, us: near[2] ?? 0 }
})
</script>

<template>
  <figure v-if="joint.plot">
    <svg
      :viewBox="`0 0 ${plot.w} ${plot.h}`"
      role="img"
      :aria-label="`${name} along ${label}: at ${percent(at)} percent it goes to ${percent(here.p)} percent`"
    >
      <PlotGrid :plot="plot" />
      <path :d="path" class="line" />
      <circle :cx="x(at)" :cy="y(here.p)" r="6" class="now" />
    </svg>
    <figcaption class="label">
      {{ name }} against the hand, all else as it stands: at {{ percent(at) }} % it goes to
      {{ percent(here.p) }} %, {{ pulse(here.us) }} µs
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  max-width: 380px;
}

svg {
  width: 100%;
}

.line {
  fill: none;
  stroke: var(--petrol);
  stroke-width: 2.5;
}

.now {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
