<script setup lang="ts">
/** What the transmitter cannot do, each with the nearest ways that it can, taken over with one press. */
import { useDebounceFn } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'

import { api, unreachable, type Fit, type Patch, type Problem } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import FindingList from './FindingList.vue'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ describe: [] }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const fit = shallowRef<Fit>()
const problem = shallowRef<Problem>()
const title = 'What this transmitter cannot do'
/** A long list is shown in part until all of it is asked for. */
const all = ref(false)
const shown = computed(() => (all.value ? fit.value?.cannot : fit.value?.cannot.slice(0, 40)) ?? [])
/** Whether the ways are for the model as it is now; else they are not to be pressed. */
const current = computed(() => fit.value?.revision === bench.model?.revision)
let asking: AbortController | undefined

async function ask() {
  asking?.abort()
  const own = (asking = new AbortController())
  const answer = await api
    .GET('/api/models/{id}/fit', { params: { path: { id: props.id } }, signal: own.signal })
    .catch(() => ({ data: undefined, error: unreachable }))
  if (own.signal.aborted) return
  problem.value = answer.error
  if (answer.data) fit.value = answer.data
}

const askSoon = useDebounceFn(ask, 500)
watch(
  () => bench.model?.revision,
  (now, before) => now && (before ? askSoon() : ask()),
  { immediate: true },
)
onBeforeUnmount(() => asking?.abort())

async function use(patch: Patch) {
  const outcome = await edits.keep(patch)
  if (!outcome.kept) problem.value = outcome.problem
}
</script>

<template>
  <section :aria-busy="!current">
    <FindingList
      v-if="!fit"
      place="kit"
      rule="cannot"
      :title="title"
      :none="problem ? undefined : 'Looking at what it can.'"
    />
    <template v-else>
      <h3 class="finds">{{ title }}</h3>
      <p v-if="!fit.known && !fit.cannot.length" class="soft">
        Nothing is known of what it can do.
        <button type="button" class="link" @click="emit('describe')">Say what it can</button>
      </p>
      <p v-else-if="!fit.cannot.length" class="soft">
        Nothing that this model wants is beyond it, as far as is known of it.
      </p>
      <ul v-else class="found">
        <li v-for="one in shown" :key="`${one.where} ${one.rule}`">
          <span class="mark" aria-hidden="true">▲</span>
          <div>
            <p>
              {{ one.says }}.
              <RouterLink
                v-if="one.part"
                class="go"
                :to="{ name: one.leads, params: { id }, query: { part: one.part } }"
                >go there</RouterLink
              >
            </p>
            <p v-for="(way, i) in one.ways" :key="i" class="soft way">
              <b>{{ i ? 'Or' : 'Nearest' }}: {{ way.says }}.</b>
              It {{ way.differs.words }}.
              <template v-if="way.lost">What is lost: {{ way.lost }}.</template>
              {{ ' ' }}
              <button
                type="button"
                class="link"
                :disabled="!current"
                :aria-label="`use it: ${way.says}`"
                @click="once($event, () => use(way.patch))"
              >
                use it
              </button>
            </p>
            <p v-if="!one.ways.length" class="soft">
              {{
                one.sought
                  ? 'No way was found that does without.'
                  : 'Ways are sought once there is less above.'
              }}
              To do: {{ one.remedy }}.
            </p>
          </div>
        </li>
      </ul>
      <p v-if="shown.length < fit.cannot.length">
        <button type="button" class="link" @click="all = true">
          and {{ fit.cannot.length - shown.length }} more
        </button>
      </p>
    </template>
    <p v-if="problem" class="fault" role="alert">
      {{ problem.title }}{{ problem.detail ? `: ${problem.detail}` : '' }}.
      <button type="button" class="link" @click="ask">Ask again</button>
    </p>
  </section>
</template>

<style scoped>
p {
  margin: 0;
}

.way {
  margin-top: 4px;
}

.way b {
  font-weight: 400;
  color: var(--ink);
}

/* in the line of what it takes over */
.way button {
  display: inline;
  min-height: 24px;
  padding: 0;
}
</style>
