<script setup lang="ts">
/** Rules: what switches do, as sentences, live; and what must always hold. */
import Button from 'primevue/button'
import { computed, defineAsyncComponent, nextTick, shallowRef, watch } from 'vue'

import { api, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useParts } from '../composables/useParts'
import { useRevised } from '../composables/useRevised'
import FindingList from '../parts/FindingList.vue'
import LiveValue from '../parts/LiveValue.vue'
import MenuButton from '../parts/MenuButton.vue'
import ClaimList from '../rules/ClaimList.vue'
import NewRule from '../rules/NewRule.vue'
import OwnEntries from '../rules/OwnEntries.vue'
import RuleCard from '../rules/RuleCard.vue'
import StepBoxes from '../rules/StepBoxes.vue'
import RuleSentence from '../rules/RuleSentence.vue'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const RecordStrips = defineAsyncComponent(() => import('../rules/RecordStrips.vue'))

const props = defineProps<{ id: string }>()
const bench = useBench()
const { opened, of, kinds, add } = useParts()
const edits = useEdits()
const { once } = useOnce()
const { answer, problem: unknown } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/rules', { params: { path: { id } }, signal }),
)
const writing = shallowRef(false)
watch(
  () => props.id,
  () => (writing.value = false),
)

const claims = computed(() => of('claims'))
const rules = computed(() => answer.value?.rules ?? [])
/** What points at a part points at the rule that it is in. */
const openRule = computed(() =>
  rules.value.find((rule) => rule.parts.some((part) => part.key === opened.value)),
)
watch(
  () => openRule.value?.key,
  async (key) => {
    if (!key || key === opened.value) return
    await nextTick()
    document.querySelector(`[data-behind='${CSS.escape(key)}']`)?.scrollIntoView({ block: 'nearest' })
  },
)

type Said = Schemas['RuleSaid']
const live = (rule: Said) => bench.view?.behind.find((one) => one.part === rule.key)
/** A rule that is on or off has a dot; another says what it is at. */
const isOn = (rule: Said) => {
  const part = live(rule)
  return part && part.names?.join() === 'off,on' ? (bench.values[part.value] ?? 0) > 0 : undefined
}
const toggle = (rule: Said) => (opened.value = openRule.value === rule ? undefined : rule.key)
const wrote = async (key: string) => {
  writing.value = false
  opened.value = key
}
</script>

<template>
  <h2 class="unseen">Rules</h2>
  <div v-if="bench.view" class="rules split">
    <section aria-label="What the switches do">
      <header>
        <h3>What the switches do</h3>
        <Button :disabled="!answer" :aria-expanded="writing" @click="writing = !writing">New rule</Button>
      </header>
      <p v-if="unknown" class="fault">{{ unknown.title }}</p>
      <NewRule
        v-if="writing && answer"
        :id="id"
        :kinds="answer.kinds"
        :lists="answer.lists"
        @done="wrote"
        @leave="writing = false"
      />
      <div
        v-for="rule in rules"
        :key="rule.key"
        class="rule"
        :class="{ open: openRule === rule }"
        :data-behind="rule.key"
      >
        <div class="row" @click="toggle(rule)">
          <svg v-if="isOn(rule) !== undefined" class="dot" viewBox="0 0 14 14" aria-hidden="true">
            <circle cx="7" cy="7" r="5.5" :class="{ on: isOn(rule) }" />
          </svg>
          <span v-else class="dot"></span>
          <p>
            <button
              type="button"
              class="name opens"
              :aria-expanded="openRule === rule"
              @click.stop="toggle(rule)"
            >
              {{ rule.title }}
            </button>
            <span v-if="openRule !== rule" class="soft">
              <RuleSentence :says="rule.says" brief />
            </span>
          </p>
          <span v-if="openRule === rule && rule.moves.length" class="label moves"
            >moves: {{ rule.moves.join(', ') }}</span
          >
          <LiveValue
            v-if="live(rule)"
            class="now"
            :value="live(rule)?.value ?? -1"
            :unit="live(rule)?.unit ?? ''"
            :names="live(rule)?.names"
          />
        </div>
        <RuleCard
          v-if="openRule === rule && answer"
          :rule="rule"
          :rules="answer.rules"
          :lists="answer.lists"
          :pointed="opened"
          @gone="opened = undefined"
        />
      </div>
      <p v-if="answer && !rules.length" class="soft">
        There is no rule yet: switches and sticks go straight to their functions. A rule is for what latches,
        steps, waits or flashes.
      </p>
      <StepBoxes v-if="answer?.boxes.length" :boxes="answer.boxes" />
      <RecordStrips />
    </section>
    <aside aria-label="What must always hold">
      <header>
        <h3>What must always hold</h3>
        <MenuButton
          :items="kinds('claims')"
          label="Add what must always hold"
          @choose="(kind) => add('claims', kind)"
          >Add</MenuButton
        >
      </header>
      <ClaimList :id v-model:opened="opened" :parts="claims" />
      <div v-if="answer?.usual.length" class="usual" data-usual-claims>
        <p class="label">Usual for what turns or pumps, and not written down yet</p>
        <p v-for="one in answer.usual" :key="one.label">
          {{ one.label }}.
          <button
            type="button"
            class="link"
            :aria-label="`add: ${one.label}`"
            @click="once($event, () => edits.keep(one.patch))"
          >
            add
          </button>
        </p>
      </div>
      <OwnEntries v-if="rules.length" :id />
      <FindingList
        place="rules"
        title="What was found"
        none="Nothing: every rule can come true, and every one is used."
      />
    </aside>
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.rules {
  --beside: 404px;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 14px;
  margin-bottom: 4px;
}

h3 {
  font-size: 1.1875rem;
}

.usual {
  margin: 12px 0 18px;
  line-height: 1.5;
}

.rule {
  border-bottom: 1px solid var(--rule);
}

.rule.open {
  margin: 4px 0 8px;
  padding: 2px 14px 6px;
  border: 1px solid var(--ink);
  border-left: 5px solid var(--petrol);
  background: var(--sheet);
}

.row {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: var(--row);
  padding: 4px 0;
  cursor: pointer;
}

.row p {
  flex: 1;
  min-width: 0;
  line-height: 1.35;
}

.dot {
  flex: 0 0 14px;
  width: 14px;
  height: 14px;
}

.dot circle {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}

.dot circle.on {
  fill: var(--now);
}

.row:hover .name {
  text-decoration: underline;
}

.moves {
  max-width: 50%;
  text-align: right;
}

@media (max-width: 640px) {
  .rule.open .row {
    flex-wrap: wrap;
  }

  .moves {
    order: 1;
    flex: 1 0 100%;
    max-width: 100%;
    text-align: left;
  }
}

.now {
  flex: 0 0 auto;
  max-width: 30%;
  text-align: right;
  overflow-wrap: anywhere;
}
</style>
