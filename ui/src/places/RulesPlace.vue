<script setup lang="ts">
/** Rules: what switches do, as sentences, live; and what must always hold. */
import { computed } from 'vue'

import { useParts } from '../composables/useParts'
import FindingList from '../parts/FindingList.vue'
import MenuButton from '../parts/MenuButton.vue'
import PartList from '../parts/PartList.vue'
import { useBench } from '../stores/bench'

defineProps<{ id: string }>()
const bench = useBench()
const { opened, problem, of, kinds, add } = useParts()

const lists = ['logic', 'steppers', 'sequences', 'patterns', 'announcements']
const nothingYet =
  'There is no rule yet: switches and sticks go straight to their functions. ' +
  'A rule is for what latches, steps, waits or flashes.'

const rules = computed(() => lists.flatMap(of))
const claims = computed(() => of('claims'))

/** Every kind of rule in one list, with the list of the document that it goes to. */
const ruleKinds = computed(() =>
  lists.flatMap((list) => kinds(list).map((kind) => ({ key: `${list}/${kind.key}`, name: kind.name }))),
)

function addRule(key: string) {
  const [list = '', kind = ''] = key.split('/')
  return add(list, kind)
}
</script>

<template>
  <h2 class="unseen">Rules</h2>
  <div v-if="bench.view" class="rules split">
    <section aria-label="What the switches do">
      <header>
        <h3>What the switches do</h3>
        <MenuButton :items="ruleKinds" label="New rule" @choose="addRule">New rule</MenuButton>
      </header>
      <p v-if="problem" class="fault" role="alert">Nothing was added: {{ problem }}.</p>
      <PartList v-model:opened="opened" :parts="rules" acts :empty="nothingYet" />
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
      <PartList
        v-model:opened="opened"
        :parts="claims"
        empty="Nothing is written down yet, such as: the winch never turns while the drum is locked."
      />
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
  --beside: 420px;
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
</style>
