<script setup lang="ts">
/** The line along the travel of one control, from the hand to the servo, with the point where it is now. */
import { computed, onScopeDispose, watch } from 'vue'

import { percent, pulse } from '../figures'
import { useBench } from '../stores/bench'
import { useJoint } from '../stores/joint'

const props = defineProps<{ control: string; output: string; name: string }>()
const bench = useBench()
const joint = useJoint()
watch(
  () => [props.control, props.output],
  () => joint.draw(props.control, props.output),
  { immediate: true },
)
onScopeDispose(() => joint.draw('', ''))

const size = { w: 320, h: 190, left: 46, bottom: 30, top: 8, right: 24 }
const x = (v: number) => size.left + ((v + 100) / 200) * (size.w - size.left - size.right)
const y = (v: number) => size.top + ((150 - v) / 300) * (size.h - size.top - size.bottom)
const path = computed(() =>
  (joint.plot ?? []).map(([a, p], i) => `${i ? 'L' : 'M'}${x(a ?? 0)} ${y(p ?? 0)}`).join(''),
)

const label = computed(() => bench.view?.controls.find((c) => c.id === props.control)?.label ?? props.control)
const at = computed(() => {
  const control = bench.view?.controls.find((c) => c.id === props.control)
  return control ? (bench.values[control.value] ?? 0) : 0
})
const here = computed(() => {
  const points = joint.plot ?? []
  const near = points.reduce(
    (best, p) => (Math.abs((p[0] ?? 0) - at.value) < Math.abs((best[0] ?? 0) - at.value) ? p : best),
    points[0] ?? [],
  )
  return { p: near[1] ?? 0, us: near[2] ?? 0 }
})
</script>

<template>
  <figure v-if="joint.plot">
    <svg
      :viewBox="`0 0 ${size.w} ${size.h}`"
      role="img"
      :aria-label="`${name} along ${label}: at ${percent(at)} percent it goes to ${percent(here.p)} percent`"
    >
      <g v-for="v in [-100, -50, 0, 50, 100]" :key="v">
        <line :x1="x(v)" :x2="x(v)" :y1="y(150)" :y2="y(-150)" class="grid" :class="{ zero: v === 0 }" />
        <line :x1="x(-100)" :x2="x(100)" :y1="y(v)" :y2="y(v)" class="grid" :class="{ zero: v === 0 }" />
        <text :x="x(v)" :y="size.h - 10" text-anchor="middle">
          {{ v > 0 ? `+${v}` : String(v).replace('-', '−') }}
        </text>
        <text :x="size.left - 6" :y="y(v) + 4" text-anchor="end">
          {{ v > 0 ? `+${v}` : String(v).replace('-', '−') }}
        </text>
      </g>
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

.grid {
  stroke: var(--rule);
}

.zero {
  stroke: var(--soft);
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

text {
  font: 12.5px var(--mono);
  fill: var(--soft);
}
</style>
