<script setup lang="ts">
/** What can be added to an open function, and another control for one that acts on it. */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import { useAdd, useParts, wasAdded } from '../composables/useParts'
import { useBench } from '../stores/bench'
import { refusalOf } from '../stores/editQueue'
import { useEdits } from '../stores/edits'
import MenuButton from './MenuButton.vue'
import MovePrompt from './MovePrompt.vue'

const props = defineProps<{
  /** The function, its id and what it is called. */
  line: string
  name: string
  /** What it is called together with those that share its joints. */
  title: string
  /** The control at the joint that is looked at. */
  control?: string
}>()
const emit = defineEmits<{ added: [part: string] }>()
const bench = useBench()
const edits = useEdits()
const { problem, add: addPart } = useAdd()
const { kinds } = useParts()

/** What is asked of the hand before anything is written: until then nothing is changed. */
const ways = computed<Record<string, { name: string; asks: string[]; presses: boolean }>>(() => ({
  follows: {
    name: 'a stick, a lever or a switch that moves it',
    asks: [`Move what is to move ${props.name}.`],
    presses: false,
  },
  toggle: {
    name: 'a button that switches it on and off',
    asks: [`Press the button that is to switch ${props.name} on and off.`],
    presses: true,
  },
  steps: {
    name: 'two presses that step it up and down',
    asks: [`Press what is to step ${props.name} up.`, 'Now press what is to step it down.'],
    presses: true,
  },
  cut: {
    name: 'a switch that cuts it',
    asks: [`Put the switch where ${props.name} is to be cut.`],
    presses: true,
  },
}))
const more = computed(() => [
  ...Object.entries(ways.value).map(([key, { name }]) => ({ key, name })),
  { key: 'mixes', name: 'another source, mixed with the others' },
  { key: 'demands', name: 'a feel: expo, rates or a curve for a source' },
  { key: 'shares', name: 'a rule for two functions that both ask for too much' },
])
const plugs = computed(() => kinds('devices').map(({ key, name }) => ({ key, name })))

const asked = shallowRef<string>()
const prompt = computed(() => {
  if (asked.value !== 'instead') return ways.value[asked.value ?? '']
  const control = bench.view?.controls.find((c) => c.id === props.control)
  return { asks: [`Move what is to act instead of ${control?.label ?? 'it'}.`], presses: false }
})
watch([() => props.line, () => props.control], () => (asked.value = undefined))

async function add(key: string) {
  asked.value = key in ways.value ? key : undefined
  if (asked.value) return
  const part = await addPart(key, undefined, key === 'mixes' ? props.line : undefined)
  if (part) emit('added', part)
}

async function plug(kind: string) {
  asked.value = undefined
  const part = await addPart('devices', kind, `outputs/${props.line}`)
  if (part) wasAdded(part) // its form is in Kit, and is to take no focus whenever it is opened
}

async function moved(what: string[]) {
  const way = asked.value
  asked.value = undefined
  const outcome = await edits.act(
    way === 'instead'
      ? { act: 'instead', part: `controls/${props.control}`, of: props.line, moved: what }
      : { act: 'moved', part: `outputs/${props.line}`, kind: way, moved: what },
  )
  problem.value = refusalOf(outcome)
}
</script>

<template>
  <MenuButton :items="more" :label="`Add to ${title}`" @choose="add">Add…</MenuButton>
  <MenuButton :items="plugs" :label="`Plug in for ${name}`" @choose="plug">Plug in…</MenuButton>
  <Button v-if="control" class="quiet" :aria-pressed="asked === 'instead'" @click="asked = 'instead'"
    >Another control…</Button
  >
  <slot />
  <MovePrompt
    v-if="prompt"
    :key="asked"
    class="prompt"
    :asks="prompt.asks"
    :presses="prompt.presses"
    @moved="moved"
    @cancel="asked = undefined"
  />
  <p v-if="problem" class="fault" role="alert">Nothing was changed: {{ problem }}.</p>
</template>

<style scoped>
.prompt,
.fault {
  flex-basis: 100%;
}
</style>
