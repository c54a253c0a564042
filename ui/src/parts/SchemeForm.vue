<script setup lang="ts">
/** What a way to let functions go together has to be told; nothing is written until all of it is. */
import Button from 'primevue/button'
import { computed, reactive, shallowRef, watch } from 'vue'

import type { Problem, Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { typed } from '../figures'
import { useEdits } from '../stores/edits'

type Scheme = Schemas['Scheme']
const props = defineProps<{ scheme: Scheme }>()
const emit = defineEmits<{ done: [] }>()
const edits = useEdits()
const { once } = useOnce()
const problem = shallowRef<Problem>()
const values = reactive<Record<string, string[]>>({})
watch(
  () => props.scheme,
  (now) => {
    problem.value = undefined
    for (const key of Object.keys(values)) delete values[key]
    for (const place of now.places) values[place.key] = place.values.slice()
  },
  { immediate: true },
)

/** What the positions are called is known once their switch is chosen. */
const names = computed(() => {
  const by = props.scheme.places.find((place) => place.key === 'switch')
  return by?.choices.find((one) => one.value === values.switch?.[0])?.names ?? []
})
function put(key: string, at: number, value: string) {
  const list = (values[key] ?? []).slice()
  list[at] = value
  values[key] = list
}
function check(key: string, value: string, on: boolean) {
  const others = (values[key] ?? []).filter((one) => one !== value)
  values[key] = on ? [...others, value] : others
}
/** Figures are read as a person types them; what is none is sent as it is, and refused by name. */
function filled() {
  const all: Record<string, string[]> = {}
  for (const place of props.scheme.places) {
    const list = values[place.key] ?? []
    all[place.key] =
      place.kind === 'number' ? list.map((text) => String(typed(text, place.unit) ?? text)) : list.slice()
    if (place.kind === 'positions')
      all[place.key] = names.value.map((_, k) => list[k] ?? place.choices[0]?.value ?? '')
  }
  return all
}
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
    <div v-for="place in scheme.places" :key="place.key" class="place" :data-place="place.key">
      <fieldset v-if="place.kind === 'many'">
        <legend>{{ place.label }}</legend>
        <label v-for="one in place.choices" :key="one.value" class="one"
          ><input
            type="checkbox"
            :checked="values[place.key]?.includes(one.value)"
            @change="check(place.key, one.value, ($event.target as HTMLInputElement).checked)"
          />
          {{ one.label }}</label
        >
      </fieldset>
      <fieldset v-else-if="place.kind === 'positions'">
        <legend>{{ place.label }}</legend>
        <p v-if="!names.length" class="soft">Choose the switch first.</p>
        <label v-for="(at, k) in names" :key="at"
          >{{ at }}
          <select
            class="box"
            :value="values[place.key]?.[k] ?? place.choices[0]?.value"
            @change="put(place.key, k, ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="one in place.choices" :key="one.value" :value="one.value">{{ one.label }}</option>
          </select></label
        >
      </fieldset>
      <label v-else-if="place.kind === 'number'"
        >{{ place.label }}
        <input
          class="box fig"
          inputmode="decimal"
          size="4"
          :value="values[place.key]?.[0] ?? ''"
          @change="put(place.key, 0, ($event.target as HTMLInputElement).value)"
        />
        {{ place.unit }}</label
      >
      <label v-else
        >{{ place.label }}
        <select
          class="box"
          :value="values[place.key]?.[0] ?? ''"
          @change="put(place.key, 0, ($event.target as HTMLSelectElement).value)"
        >
          <option value="" disabled>choose one</option>
          <option v-for="one in place.choices" :key="one.value" :value="one.value">{{ one.label }}</option>
        </select></label
      >
    </div>
    <p v-if="problem" class="fault" role="alert">
      {{ problem.title }}.
      <template v-for="one in problem.errors ?? []" :key="one.path"
        >{{ one.value }} {{ one.message }}; {{ one.remedy }}.
      </template>
    </p>
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

fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0;
  padding: 0;
  border: 0;
}

legend {
  padding: 0;
}

.one {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 40px;
}

.one input {
  width: 22px;
  height: 22px;
}
</style>
