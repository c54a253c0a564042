<script setup lang="ts">
/** The states of a rule, the live one lit, and what takes it from one to the next. */
import Button from 'primevue/button'
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, shallowRef, useTemplateRef, watch } from 'vue'

import WayTo from '../parts/WayTo.vue'
import { useStates } from '../stores/states'
import { useWays } from '../stores/ways'
import { laid } from './layout'

const props = defineProps<{ rule: string; title: string }>()
const store = useStates()
const ways = useWays()
watch(() => props.rule, store.look, { immediate: true })
/** Of the states of this rule, the one that it was asked how to get to. */
const goal = computed(() => {
  const asked = ways.asked
  return asked && 'rule' in asked && asked.rule === props.rule ? asked.node : -1
})
onBeforeUnmount(() => {
  store.look('')
  if (goal.value >= 0) ways.ask()
})

/** A drawing is not made smaller than this: what does not fit is moved across. */
const least = 0.8
/** So many states are legible as a drawing; more are folded to a list. */
const most = 12
const open = shallowRef(false)
watch(
  () => props.rule,
  () => (open.value = false),
)
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const states = computed(() => store.states)
const folded = computed(() => (states.value?.nodes.length ?? 0) > most && !open.value)
const drawing = computed(() => {
  if (!states.value?.nodes.length || folded.value) return undefined
  const across = laid(states.value, false)
  // where it is wider than there is room, it goes down the page
  return width.value && across.width > width.value * 1.25 ? laid(states.value, true) : across
})
/** An open rule is seen whole, as far as there is room. */
watch(
  () => drawing.value !== undefined,
  async (there) => {
    if (!there) return
    await nextTick()
    box.value?.closest('[data-rule]')?.scrollIntoView({ block: 'nearest' })
  },
)
const now = computed(() => store.now?.node ?? -1)
/** So many states can be asked for by a button. */
const mostGoals = 8
const goals = computed(() => {
  const nodes = states.value?.nodes ?? []
  const asked = nodes.map((_, i) => i).filter((i) => nodes[i]?.goal && i !== now.value)
  return nodes.length > mostGoals ? [] : asked
})
const name = (i: number) => {
  const node = states.value?.nodes[i]
  return node ? (node.soon ? `${node.label}, ${node.soon}` : node.label) : ''
}
</script>

<template>
  <div v-if="states?.nodes.length" ref="box" class="states" data-states>
    <svg
      v-if="drawing"
      :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
      :style="{ maxWidth: `${drawing.width}px`, minWidth: `${drawing.width * least}px` }"
      role="img"
      :aria-label="`The states of ${title}`"
    >
      <defs>
        <marker
          id="arrow"
          viewBox="0 0 10 10"
          refX="9"
          refY="5"
          markerWidth="8"
          markerHeight="8"
          orient="auto"
        >
          <path d="M 1 1 L 9 5 L 1 9" class="head" />
        </marker>
      </defs>
      <g v-for="(way, i) in drawing.ways" :key="`way ${i}`" class="way">
        <path :d="way.path" marker-end="url(#arrow)" />
        <rect
          v-if="way.from >= 0"
          :x="way.x - way.width / 2"
          :y="way.y - way.height / 2"
          :width="way.width"
          :height="way.height"
        />
        <text
          v-for="(line, k) in way.by"
          :key="k"
          :x="way.x"
          :y="way.y + (k - (way.by.length - 1) / 2) * 18 + 5"
          text-anchor="middle"
        >
          {{ line }}
        </text>
      </g>
      <g
        v-for="(one, i) in drawing.boxes"
        :key="`state ${i}`"
        :class="['state', { now: i === now }]"
        :data-state="i"
      >
        <rect
          :x="one.x - one.width / 2"
          :y="one.y - one.height / 2"
          :width="one.width"
          :height="one.height"
          rx="19"
        />
        <text
          v-for="(line, k) in one.lines"
          :key="k"
          :x="one.x"
          :y="one.y + (k - (one.lines.length - 1) / 2) * 18 + 5.5"
          text-anchor="middle"
        >
          {{ line }}
        </text>
      </g>
    </svg>
    <p v-else>
      It has {{ states.nodes.length }} states, too many for a drawing that can be read.
      <Button class="quiet" @click="open = true">Draw them anyway</Button>
    </p>
    <p v-if="states.partial" class="soft">{{ states.partial }}</p>
    <p v-if="store.now" class="now" role="status" data-now>
      Now <b>{{ store.now.seen }}{{ store.now.soon ? `, ${store.now.soon}` : '' }}</b
      >.<template v-if="store.now.can.length"> Possible now:</template>
      <template v-for="(next, i) in store.now.can" :key="i">
        {{ i ? '; ' : ' ' }}{{ next.does }}, to <b>{{ next.to }}</b></template
      >
    </p>
    <p v-if="goals.length" class="acts">
      <Button v-for="i in goals" :key="i" class="quiet" :data-goal="i" @click="ways.ask({ rule, node: i })"
        >How do I get to “{{ states.nodes[i]?.label }}”?</Button
      >
    </p>
    <WayTo v-if="goal >= 0" :title="`To get to “${states.nodes[goal]?.label}”:`" />
    <details>
      <summary>All states and ways as a list</summary>
      <ul>
        <li v-for="(node, i) in states.nodes" :key="i">
          <b>{{ name(i) }}</b><template v-if="node.wakes">
            (it can be so when the transmitter is turned on)</template
          >
          <ul>
            <template v-for="(edge, k) in states.edges" :key="k">
              <template v-if="edge.from === i">
                <li v-for="by in edge.by" :key="by">{{ by }}: to {{ name(edge.to) }}</li>
              </template>
            </template>
          </ul>
        </li>
      </ul>
    </details>
  </div>
</template>

<style scoped>
.states {
  margin: 8px 0;
  overflow-x: auto;
}

svg {
  display: block;
  width: 100%;
  height: auto;
}

text {
  fill: var(--ink);
  font-size: 15px;
}

.way path:first-child {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}

.head {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}

.way text {
  fill: var(--soft);
  font-size: 14.5px;
}

.way rect {
  fill: var(--sheet);
}

.state rect {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.6;
}

.state.now rect {
  fill: var(--now);
  stroke-width: 2.4;
}

.state.now text {
  fill: var(--on-now, #16223a);
  font-weight: 650;
}

ul {
  margin: 2px 0;
  padding-left: 20px;
}

.now {
  margin: 4px 0;
}

summary {
  min-height: 32px;
  color: var(--petrol);
  cursor: pointer;
}
</style>
