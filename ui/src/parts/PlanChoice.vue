<script setup lang="ts">
/** One choice of the plan: all its reasons, what another one would cost, and fixing it by hand. */
import Button from 'primevue/button'
import { computed, onBeforeUnmount, onMounted, shallowRef } from 'vue'

import { api, unreachable, type Act, type OtherPlan, type Plan, type Problem } from '../api/client'
import { capital } from '../figures'
import { useOnce } from '../composables/useOnce'
import MenuButton from './MenuButton.vue'
import PartForm from './PartForm.vue'

const props = defineProps<{
  id: string
  /** outputs/horn or controls/helm */
  of: string
  what: 'place' | 'control'
  name: string
  why: string[]
  asks: Plan['functions'][number]['asks']
  kept: boolean
  /** Rules speak of the control: there is nothing to choose. */
  held?: boolean
  places: Plan['places']['pins']
  current: boolean
}>()
const emit = defineEmits<{ act: [act: Act] }>()
const { once } = useOnce()
const other = shallowRef<OtherPlan>()
const problem = shallowRef<Problem>()
const wishing = shallowRef(false)
const wishes = computed(() => `wishes/${props.of.split('/')[1]}`)
const items = computed(() => props.places.map((p) => ({ key: p.key, name: p.label })))
const asked = computed(() => props.asks.map((a) => a.says + (a.usual ? ' (as usual)' : '')).join('; '))
const asking = new AbortController()
onBeforeUnmount(() => asking.abort())

onMounted(async () => {
  if (props.held || props.kept) return
  const answer = await api
    .GET('/api/models/{id}/plan/other', {
      params: { path: { id: props.id }, query: { of: props.of, what: props.what } },
      signal: asking.signal,
    })
    .catch(() => ({ data: undefined, error: unreachable }))
  if (asking.signal.aborted) return
  other.value = answer.data
  problem.value = answer.error
})

/** Fixes it where it is now, or lets it go. */
function fix() {
  const field = props.what === 'control' ? 'stays' : 'needs.stays'
  const value = props.what === 'control' ? !props.kept : props.kept ? '' : 'channel pin'
  emit('act', { act: 'set', part: wishes.value, field, value })
}
</script>

<template>
  <div class="choice">
    <ul>
      <li v-for="one in why" :key="one">{{ capital(one) }}.</li>
    </ul>
    <p v-if="asks.length" class="soft">Asked for: {{ asked }}.</p>
    <template v-if="other">
      <p data-other>{{ capital(other.says) }}.</p>
      <ul v-if="other.more.length" class="soft">
        <li v-for="one in other.more" :key="one">{{ one }}.</li>
      </ul>
    </template>
    <p v-else-if="problem" class="fault" role="alert">{{ problem.title }}.</p>
    <p v-else-if="!held && !kept" class="soft">Working out what another would cost.</p>
    <div v-if="!held" class="acts">
      <Button class="quiet" :disabled="!current" data-fix @click="once($event, async () => fix())">{{
        kept ? 'Let it go elsewhere' : 'It stays here'
      }}</Button>
      <MenuButton
        v-if="items.length"
        :items="items"
        :label="`Put it on… another place for ${name}`"
        :disabled="!current"
        @choose="(to) => emit('act', { act: 'put', part: of, to })"
        >Put it on…</MenuButton
      >
      <Button class="quiet" :aria-expanded="wishing" @click="wishing = !wishing">What is asked for</Button>
    </div>
    <PartForm v-if="wishing" :part="wishes" whole />
  </div>
</template>

<style scoped>
.choice {
  display: grid;
  gap: 8px;
}

ul {
  margin: 0;
  padding-left: 20px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
