<script setup lang="ts">
/** How functions go together, more than a pair: what there is, as sentences, and what there could be. */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import { api, type Problem, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useRevised } from '../composables/useRevised'
import { useEdits } from '../stores/edits'
import MenuButton from './MenuButton.vue'
import SchemeForm from './SchemeForm.vue'

const props = defineProps<{ id: string }>()
const edits = useEdits()
const { once } = useOnce()
const { answer, problem: unknown } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/schemes', { params: { path: { id } }, signal }),
)
const problem = shallowRef<Problem>()
/** What is open: one that there is, by its key, or a kind that there could be. */
const opened = shallowRef<{ key: string; kind: string }>()
watch(
  () => props.id,
  () => (opened.value = undefined),
)
const open = computed<Schemas['Scheme'] | undefined>(() => {
  const { key, kind } = opened.value ?? { key: '', kind: '' }
  return key
    ? answer.value?.has.find((one) => one.key === key)
    : answer.value?.could.find((one) => one.kind === kind)
})
const more = computed(() => (answer.value?.could ?? []).map((one) => ({ key: one.kind, name: one.title })))

async function apart(key: string) {
  const outcome = await edits.act({ act: 'apart', of: key })
  problem.value = outcome.kept ? undefined : outcome.problem
}
</script>

<template>
  <section class="schemes" aria-label="What else goes together">
    <h3>What else goes together</h3>
    <p v-if="unknown || problem" class="fault">{{ (unknown ?? problem)?.title }}</p>
    <ul>
      <li v-for="one in answer?.has ?? []" :key="one.key" :data-scheme="one.kind">
        <p>
          <b>{{ one.title }}.</b> {{ one.says }}
        </p>
        <p class="acts">
          <Button
            class="quiet"
            :aria-expanded="opened?.key === one.key"
            :aria-label="`Change: ${one.title}`"
            @click="opened = opened?.key === one.key ? undefined : { key: one.key, kind: one.kind }"
            >Change</Button
          >
          <Button
            class="quiet"
            :aria-label="`Take apart: ${one.title}`"
            @click="once($event, () => apart(one.key))"
            >Take apart</Button
          >
        </p>
        <SchemeForm v-if="open && open.key === one.key" :scheme="open" @done="opened = undefined" />
      </li>
    </ul>
    <p v-if="answer && !answer.has.length" class="soft">
      Nothing yet: a pump for its valves, rear wheels that steer by a switch, a brake that a dial shares out.
    </p>
    <MenuButton
      :items="more"
      label="Let functions go together"
      @choose="(kind: string) => (opened = { key: '', kind })"
      >Let functions go together…</MenuButton
    >
    <template v-if="open && !open.key">
      <h4>{{ open.title }}</h4>
      <SchemeForm :scheme="open" @done="opened = undefined" />
    </template>
  </section>
</template>

<style scoped>
.schemes {
  margin-top: 20px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}

h3,
h4 {
  margin: 0 0 6px;
}

h4 {
  margin-top: 12px;
}

ul {
  margin: 0 0 10px;
  padding: 0;
  list-style: none;
}

li {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

li p {
  margin: 2px 0;
}
</style>
