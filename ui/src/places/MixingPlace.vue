<script setup lang="ts">
/**
 * Mixing: how two lines that belong together are driven. The choice is made in words; below it what both do
 * over the whole square of the stick, and under each rule for more than there is. Which ways there are, what
 * they need and what they are called comes from the server.
 */
import Button from 'primevue/button'
import { computed, onScopeDispose, reactive, shallowRef, watch } from 'vue'

import type { MixingChoice, Pair } from '../api/client'
import ChoiceCard from '../mixing/ChoiceCard.vue'
import FieldMap from '../mixing/FieldMap.vue'
import FindingList from '../parts/FindingList.vue'
import PartList from '../parts/PartList.vue'
import SchemeList from '../parts/SchemeList.vue'
import { useParts } from '../composables/useParts'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import { useMixing } from '../stores/mixing'

defineProps<{ id: string }>()
const bench = useBench()
const { opened, of } = useParts()
const shares = computed(() => of('shares'))
const edits = useEdits()
const store = useMixing()
store.want({ first: '', second: '' })
onScopeDispose(store.leave)

const mixing = computed(() => store.mixing)
const pair = computed<Pair | undefined>(() => mixing.value?.pairs[mixing.value.at])
const choice = reactive<MixingChoice>({
  way: 'own',
  drive: '',
  turn: '',
  left: '',
  right: '',
  drive_gain: 100,
  turn_gain: 100,
  lever_gain: 100,
  drive_soft: 0,
  turn_soft: 0,
  rule: '',
})
watch(
  () => JSON.stringify(pair.value?.choice),
  () => pair.value && Object.assign(choice, pair.value.choice),
  { immediate: true },
)
const way = computed(() => pair.value?.ways.find((one) => one.way === choice.way))
/** What few need is one step deeper, unless it is not as usual. */
const deep = shallowRef(false)
const gainsShown = computed(() =>
  (way.value?.gains ?? []).filter((one) => !one.deep || deep.value || choice[one.key] !== one.usual),
)
const ruleNow = computed(() => pair.value?.choice.rule || 'clip')
const field = computed(() => mixing.value?.fields.find((f) => f.rule === ruleNow.value))
const paths = computed(
  () => mixing.value?.paths[mixing.value.fields.findIndex((f) => f.rule === ruleNow.value)],
)

const problem = shallowRef('')
const fault = shallowRef<{ path: string; words: string }>()

/** Keeps the choice as it stands, with what was changed in it. */
async function keep(change: Partial<MixingChoice>) {
  if (!pair.value) return
  const wanted = { ...choice, ...change }
  Object.assign(choice, change)
  if (wanted.way === 'own') return
  const before = pair.value
  const outcome = await edits.act({
    act: 'mix',
    part: `outputs/${before.first}`,
    to: `outputs/${before.second}`,
    mixing: wanted,
  })
  problem.value = ''
  fault.value = undefined
  if (outcome.kept || outcome.problem.status === 409) return
  const first = outcome.problem.errors?.[0]
  if (first)
    fault.value = { path: first.path.replace('mixing.', ''), words: `${first.message}; ${first.remedy}` }
  else problem.value = outcome.problem.title
}

type SourceKey = Pair['ways'][number]['sources'][number]['key']

/** Another source comes with its own softness. */
function take(key: SourceKey, ref: string) {
  const soft = mixing.value?.sources.find((source) => source.ref === ref)?.soft ?? 0
  return keep({ [key]: ref, ...(key === 'drive' || key === 'turn' ? { [`${key}_soft`]: soft } : {}) })
}

function look(at: number) {
  const other = mixing.value?.pairs[at]
  if (other) store.want({ first: other.first, second: other.second })
}

/** Where the hands are on the square. */
const place = (control: string) => {
  const known = bench.view?.controls.find((c) => c.id === control)
  return known ? (bench.values[known.value] ?? 0) : 0
}
const x = computed(() => place(pair.value?.across ?? ''))
const y = computed(() => place(pair.value?.along ?? ''))
</script>

<template>
  <h2 class="unseen">Mixing</h2>
  <div v-if="mixing && pair" class="mixing">
    <header>
      <label v-if="mixing.pairs.length > 1" class="field inline"
        >The pair
        <select
          class="box"
          :value="mixing.at"
          @change="look(Number(($event.target as HTMLSelectElement).value))"
        >
          <option v-for="(one, i) in mixing.pairs" :key="i" :value="i">{{ one.label }}</option>
        </select></label
      >
      <h3 v-else>{{ pair.label }}</h3>
      <p class="sum">{{ pair.words }}</p>
    </header>

    <fieldset class="ways">
      <legend class="unseen">How they are driven</legend>
      <ChoiceCard
        v-for="one in pair.ways"
        :key="one.way"
        group="way"
        :value="one.way"
        :words="one.words"
        :more="one.more"
        :chosen="choice.way === one.way"
        @choose="keep({ way: one.way })"
      />
    </fieldset>
    <p v-if="choice.way === 'own' && pair.replaces" class="soft">{{ pair.replaces }}</p>

    <div v-if="way" class="fields">
      <div v-for="one in way.sources" :key="one.key" class="field inline">
        <label :for="`source-${one.key}`">{{ one.words }}</label>
        <select
          :id="`source-${one.key}`"
          class="box"
          :value="choice[one.key]"
          @change="take(one.key, ($event.target as HTMLSelectElement).value)"
        >
          <option v-if="!choice[one.key]" value="" disabled>choose one</option>
          <option v-for="source in mixing.sources" :key="source.ref" :value="source.ref">
            {{ source.label }}
          </option>
        </select>
        <span v-if="fault?.path === one.key" class="fault" role="alert">{{ fault.words }}</span>
      </div>
      <div v-for="one in gainsShown" :key="one.key" class="field inline">
        <label :for="`gain-${one.key}`">{{ one.words }}</label>
        <input
          :id="`gain-${one.key}`"
          class="box figure"
          type="number"
          :min="one.least"
          :max="one.most"
          :value="choice[one.key]"
          @change="keep({ [one.key]: Number(($event.target as HTMLInputElement).value) })"
        />
        %
        <span v-if="fault?.path === one.key" class="fault" role="alert">{{ fault.words }}</span>
      </div>
      <Button
        v-if="way.gains.some((one) => one.deep)"
        class="quiet more"
        :aria-expanded="deep"
        @click="deep = !deep"
        >{{ deep ? 'Less' : 'More' }}</Button
      >
    </div>
    <p v-if="problem" class="fault" role="alert">{{ problem }}</p>

    <div v-if="field" class="maps">
      <FieldMap
        :name="pair.names[0] ?? ''"
        :values="field.first"
        :cut="field.cut"
        :bit="1"
        :x="x"
        :y="y"
        figures
      />
      <FieldMap
        :name="pair.names[1] ?? ''"
        :values="field.second"
        :cut="field.cut"
        :bit="2"
        :x="x"
        :y="y"
        figures
      />
      <FieldMap
        v-if="paths?.length"
        name="The way it goes"
        :values="field.first"
        :cut="field.cut"
        :bit="3"
        :x="x"
        :y="y"
        :paths="paths"
      />
      <fieldset class="rules">
        <legend>When both ask for too much</legend>
        <ChoiceCard
          v-for="one in mixing.rules"
          :key="one.rule"
          group="rule"
          :value="one.rule"
          :words="one.words"
          :more="one.more"
          :chosen="ruleNow === one.rule"
          :disabled="choice.way === 'own'"
          plain
          @choose="keep({ rule: one.rule })"
        />
        <p class="label">
          {{ pair.square }} The dot is your stick now. Hatched: more is asked for than there is.
        </p>
      </fieldset>
    </div>
    <p v-else class="soft">{{ mixing.none }}</p>

    <SchemeList :id="id" />

    <section v-if="pair.recipes.length">
      <h3>Key it in as one of these</h3>
      <div class="recipes">
        <section v-for="(recipe, i) in pair.recipes" :key="i">
          <h4>{{ recipe.title }}</h4>
          <ol>
            <li v-for="(step, k) in recipe.steps" :key="k">{{ step }}</li>
          </ol>
        </section>
      </div>
    </section>
    <section v-if="field">
      <h3>The three ways to give way, side by side</h3>
      <div class="compared">
        <div v-for="f in mixing.fields" :key="f.rule">
          <h4>{{ mixing.rules.find((one) => one.rule === f.rule)?.words }}</h4>
          <div class="two">
            <FieldMap :name="pair.names[0] ?? ''" :values="f.first" :cut="f.cut" :bit="1" :x="x" :y="y" />
            <FieldMap :name="pair.names[1] ?? ''" :values="f.second" :cut="f.cut" :bit="2" :x="x" :y="y" />
          </div>
        </div>
      </div>
    </section>
    <template v-if="shares.length">
      <h3>Functions that share what there is</h3>
      <PartList v-model:opened="opened" :parts="shares" />
    </template>
    <FindingList place="mixing" title="What was found" />
  </div>
  <div v-else-if="mixing" class="empty" data-no-pair>
    <p>{{ mixing.none }}</p>
    <Button class="quiet" @click="$router.push({ name: 'functions', params: $route.params })"
      >Go to the functions</Button
    >
    <SchemeList :id="id" />
    <template v-if="shares.length">
      <h3>Functions that share what there is</h3>
      <PartList v-model:opened="opened" :parts="shares" />
    </template>
    <FindingList place="mixing" title="What was found" />
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.mixing {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
}

h3 {
  font-size: 1.1875rem;
}

h4 {
  margin: 0;
  font-size: 1.0625rem;
}

.sum {
  color: var(--soft);
}

fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}

.ways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(230px, 100%), 1fr));
  gap: 8px;
}

.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
}

.fields > * {
  min-width: 0;
  max-width: 100%;
}

.fields select {
  max-width: min(300px, 100%);
}

.more {
  margin-left: auto;
}

.figure {
  width: 84px;
  font-family: var(--mono);
  text-align: right;
}

.maps {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(220px, 100%), 1fr));
  gap: 10px 18px;
}

.rules legend {
  padding: 0;
  font-weight: 650;
}

.compared {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(290px, 100%), 1fr));
  gap: 12px;
}

.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.recipes {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(280px, 100%), 1fr));
  gap: 8px 24px;
}

ol {
  margin: 2px 0;
  padding-left: 22px;
}

li {
  padding: 1px 0;
  font-size: 1rem;
}
</style>
