<script setup lang="ts">
/**
 * Asks for movements of the hand, one after the other: on screen, on a gamepad, or chosen from a list by
 * who cannot move anything now.
 */
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, onMounted, shallowRef, useId, useTemplateRef } from 'vue'

import { useMoved } from '../composables/useMoved'
import { useBench } from '../stores/bench'

const props = defineProps<{
  /** What is asked for, a sentence each. */
  asks: string[]
  /** Only what has positions counts: a switch, or a button. */
  presses?: boolean
}>()
const emit = defineEmits<{ moved: [moved: string[]]; cancel: [] }>()
const bench = useBench()
const id = useId()
const section = useTemplateRef<HTMLElement>('section')
onMounted(() => section.value?.scrollIntoView({ block: 'nearest' }))
const taken = shallowRef<string[]>([])

/** What can be chosen: a lever, or a switch in each of its positions. */
const choices = computed(() =>
  (bench.view?.controls ?? []).flatMap((c) =>
    c.kind === 'switch'
      ? (c.positions ?? []).map((at, i) => ({
          value: `${c.id}.${at}`,
          label: `${c.label} at ${c.words?.[i] ?? at}`,
        }))
      : props.presses
        ? []
        : [{ value: c.id, label: c.label }],
  ),
)

const { listening } = useMoved((control, at) => {
  const c = bench.view?.controls.find((one) => one.id === control)
  // a button that goes back by itself was not pressed to where it rests
  if (c?.kind === 'switch' && at === c.spring) return false
  const moved = [`${control}.${at}`, control].find((v) => choices.value.some((one) => one.value === v))
  if (moved) choose(moved)
  return taken.value.length === props.asks.length
})
listening.value = true

function choose(moved: string) {
  taken.value = [...taken.value, moved]
  if (taken.value.length === props.asks.length) emit('moved', taken.value)
}
</script>

<template>
  <section ref="section" class="prompt" :aria-labelledby="id" @keydown.escape.stop="$emit('cancel')">
    <p :id="id" role="status">{{ asks[Math.min(taken.length, asks.length - 1)] }}</p>
    <Select
      :key="taken.length"
      aria-label="or choose it here"
      :model-value="null"
      :options="choices"
      option-label="label"
      option-value="value"
      filter
      filter-placeholder="find"
      placeholder="or choose it here"
      @update:model-value="choose"
    />
    <Button class="quiet" @click="$emit('cancel')">Not now</Button>
  </section>
</template>

<style scoped>
.prompt {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
  margin-top: 10px;
  padding: 10px 12px;
  background: var(--ground);
  border: 1.5px solid var(--petrol);
  border-radius: 3px;
}

p {
  flex: 1 1 14em;
  font-weight: 700;
}
</style>
