<script setup lang="ts">
/** Plan: which function goes on which channel, pin and lever, proved best, and why there. */
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import { api, unreachable, type Act, type OtherPlan } from '../api/client'
import PlanBeside from '../parts/PlanBeside.vue'
import PlanTable from '../parts/PlanTable.vue'
import { onDemand } from '../composables/onDemand'
import { useOnce } from '../composables/useOnce'
import { usePlan } from '../composables/usePlan'
import { useBench } from '../stores/bench'
import { refusalOf, type Outcome } from '../stores/editQueue'
import { useEdits } from '../stores/edits'

const WishesDialog = onDemand(() => import('../parts/WishesDialog.vue'))
const props = defineProps<{ id: string }>()
const bench = useBench()
const { planned, problem, asking, current, ask, lookOn, stop } = usePlan(() => props.id)
const { once } = useOnce()
const edits = useEdits()
const plan = computed(() => planned.value?.plan)
const wishing = shallowRef(false)
const refused = shallowRef('')

/** What the next best would cost: asked for once the plan stands. */
const next = shallowRef<OtherPlan>()
watch(
  () => planned.value?.revision,
  async (revision) => {
    next.value = undefined
    if (!plan.value?.functions.length) return
    const answer = await api
      .GET('/api/models/{id}/plan/other', { params: { path: { id: props.id } } })
      .catch(() => ({ data: undefined, error: unreachable }))
    if (planned.value?.revision === revision) next.value = answer.data
  },
)

/** How the plan stands, in a few words. */
const stands = computed(() => {
  const p = plan.value
  if (!p?.functions.length) return ''
  if (!p.proved) return p.search.says
  if (!p.met) return 'not all that is asked for can be had; this is the nearest'
  return p.changes.length ? 'proved best, and other than it is now' : 'proved best'
})

/** Does something to the model, and says what is against it. */
async function change(done: Promise<Outcome>) {
  refused.value = refusalOf(await done)
}

const act = (what: Act) => change(edits.act(what))
</script>

<template>
  <h2 class="unseen">Plan</h2>
  <div v-if="bench.view && plan" class="plan split" :aria-busy="!current">
    <div>
      <header>
        <h3>What goes where</h3>
        <span class="soft stands">
          {{ stands }}<template v-if="next?.says && plan.proved">; {{ next.says }}</template>
        </span>
        <Button v-if="!plan.proved && !asking" class="quiet" @click="lookOn">Look on</Button>
        <Button v-if="asking && !plan.proved" class="quiet" @click="stop">Stop</Button>
        <Button class="wishes" @click="wishing = true">Wishes</Button>
      </header>
      <p v-if="refused" class="fault" role="alert">Nothing was changed: {{ refused }}.</p>
      <p v-if="!plan.functions.length" class="soft">
        There is no function yet. Add what the model has in
        <RouterLink :to="{ name: 'functions', params: { id } }">Functions</RouterLink>, and plug its parts in
        in <RouterLink :to="{ name: 'kit', params: { id } }">Kit</RouterLink>: then it is planned here.
      </p>
      <PlanTable v-else :id="id" :plan="plan" :current="current" @act="act" />
      <p class="files">
        On paper:
        <a :href="`/api/models/${id}/plan.pdf?paper=A4`" download>What goes where, A4</a>
        <a :href="`/api/models/${id}/plan.pdf?paper=A6`" download>A6</a>
        The leads:
        <a :href="`/api/models/${id}/leads/svg`" download>SVG</a>
        <a :href="`/api/models/${id}/leads/dot`" download>DOT</a>
      </p>
    </div>
    <PlanBeside
      :id="id"
      :plan="plan"
      :current="current"
      @carry="once($event, () => act({ act: 'plan' }))"
      @ask="(patch) => change(edits.keep(patch))"
    />
    <WishesDialog v-model:visible="wishing" :plan="plan" />
  </div>
  <p v-else-if="problem" class="fault" role="alert">
    {{ problem.title }}{{ problem.detail ? `: ${problem.detail}` : '' }}.
    <button type="button" class="link" @click="ask">Ask again</button>
  </p>
  <p v-else class="soft">Working out what goes where.</p>
</template>

<style scoped>
.plan {
  --beside: 404px;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  margin-bottom: 8px;
}

h3 {
  font-size: 1.1875rem;
}

.stands {
  flex: 1 1 12em;
  font-size: 1rem;
}

.files {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  margin-top: 18px;
}

.wishes {
  margin-left: auto;
}
</style>
