<script setup lang="ts">
/** What a way to let functions go together has to be told; nothing is written until all of it is. */
import Button from 'primevue/button'
import { computed, reactive, shallowRef, watch } from 'vue'

import type { Problem, Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import PlaceEditor from '../rules/PlaceEditor.vue'
import type { Values } from '../rules/places'
import { useEdits } from '../stores/edits'
import ProblemText from './ProblemText.vue'

type Scheme = Schemas['Scheme']
const props = defineProps<{ scheme: Scheme }>()
const emit = defineEmits<{ done: [] }>()
const edits = useEdits()
const { once } = useOnce()
const problem = shallowRef<Problem>()
const values = reactive<Values>({})
watch(
  () => props.scheme,
  (now) => {
    problem.value = undefined
    for (const key of Object.keys(values)) delete values[key]
    for (const place of now.places) values[place.key] = place.values.slice()
  },
  { immediate: true },
)

/** What is chosen for no position yet is what stands there. */
function filled() {
  const all: Values = {}
  for (const place of props.scheme.places) {
    const list = values[place.key] ?? []
    all[place.key] =
      place.kind === 'positions'
        ? names.value.map((_, k) => list[k] ?? place.choices[0]?.value ?? '')
        : list.slice()
  }
  return all
}
/** What the positions are called is known once their switch is chosen. */
const names = computed(() => {
  const by = props.scheme.places.find((place) => place.key === 'switch')
  return by?.choices.find((one) => one.value === values.switch?.[0])?.names ?? []
})
async function keep() {
  const outcome = await edits.act({
    act: 'scheme',
    scheme: { kind: props.scheme.kind, was: props.scheme.key, values: filled() },
  })
  problem.value = outcome.kept ? undefined : outcome.problem
  if (outcome.kept) emit('done')
}
</script>

<template>
  <form
    class="scheme"
    :data-form="scheme.kind"
    :aria-label="scheme.title"
    @submit.prevent="once($event, keep)"
  >
    <p class="soft">{{ scheme.does }}</p>
    <PlaceEditor
      v-for="place in scheme.places"
      :key="place.key"
      class="place"
      :place="place"
      :places="scheme.places"
      :lists="{}"
      :values="values"
      @change="Object.assign(values, $event)"
    />
    <ProblemText :problem="problem" />
    <p class="acts">
      <Button type="submit">{{ scheme.key ? 'Change it so' : 'Write it' }}</Button>
      <Button class="quiet" @click="emit('done')">Leave it</Button>
    </p>
  </form>
</template>

<style scoped>
.scheme {
  padding: 8px 0 12px;
}

.place {
  margin: 6px 0;
}
</style>
