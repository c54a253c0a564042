<script setup lang="ts">
/**
 * What lies behind the lines: controls, rules, steppers and the like, live, each opening as a plain table.
 */
import Button from 'primevue/button'
import { computed, shallowRef } from 'vue'

import type { Behind, View } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useEdits } from '../stores/edits'
import LiveValue from './LiveValue.vue'
import MenuButton from './MenuButton.vue'
import PartForm from './PartForm.vue'

const props = defineProps<{ view: View; find: string }>()
const edits = useEdits()
const opened = shallowRef<string>()
const problem = shallowRef('')

const shownGroups = computed(() =>
  props.view.groups
    .map((group) => ({
      ...group,
      parts: props.view.behind.filter((b) => b.part.startsWith(`${group.list}/`) && matches(b)),
    }))
    .filter((group) => props.find === '' || group.parts.length > 0),
)

function matches(b: Behind): boolean {
  return `${b.label} ${b.part} ${b.words}`.toLowerCase().includes(props.find.toLowerCase())
}

function lineNames(b: Behind): string {
  const names = b.lines.map((id) => props.view.lines.find((l) => l.id === id)?.label ?? id)
  if (names.length === 0) return b.part.startsWith('announcements') ? '' : 'acts on no line'
  return names.length > 3 ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more` : names.join(', ')
}

const { once } = useOnce()

async function add(list: string, kind: string) {
  problem.value = ''
  const outcome = await edits.act({ act: 'add', part: list, kind })
  if (outcome.kept) opened.value = outcome.part
  else problem.value = outcome.problem.errors?.[0]?.remedy ?? outcome.problem.title
}
</script>

<template>
  <section class="behind" aria-label="Behind the lines">
    <h2>Behind the lines</h2>
    <p v-if="problem" class="fault" role="alert">Nothing was added: {{ problem }}.</p>
    <section v-for="group in shownGroups" :key="group.list" :aria-label="group.title">
      <header>
        <h3>{{ group.title }}</h3>
        <MenuButton
          v-if="group.kinds.length > 1"
          :items="group.kinds"
          :label="`Add to ${group.title}`"
          @choose="(kind) => add(group.list, kind)"
          >Add…</MenuButton
        >
        <Button
          v-else-if="group.kinds.length"
          class="quiet"
          :aria-label="`Add to ${group.title}`"
          @click="once($event, () => add(group.list, ''))"
          >Add</Button
        >
      </header>
      <div v-for="b in group.parts" :key="b.part" class="part" :data-behind="b.part">
        <div class="row" @click="opened = opened === b.part ? undefined : b.part">
          <button
            type="button"
            class="name"
            :aria-expanded="opened === b.part"
            @click.stop="opened = opened === b.part ? undefined : b.part"
          >
            {{ b.label }}
          </button>
          <span class="soft what">{{ b.words }}</span>
          <LiveValue class="now" :value="b.value" :unit="b.unit" :names="b.names" />
          <span class="label lines">{{ lineNames(b) }}</span>
        </div>
        <PartForm
          v-if="opened === b.part"
          :part="b.part"
          class="open"
          @gone="opened = undefined"
          @renamed="opened = $event"
        />
      </div>
    </section>
    <section aria-label="The rest">
      <header><h3>The set, the link, the model</h3></header>
      <div
        v-for="[name, title] in [
          ['transmitter', 'The set and what it can do'],
          ['link', 'The link'],
          ['craft', 'The model'],
        ] as const"
        :key="name"
      >
        <div class="row" @click="opened = opened === name ? undefined : name">
          <button
            type="button"
            class="name"
            :aria-expanded="opened === name"
            @click.stop="opened = opened === name ? undefined : name"
          >
            {{ title }}
          </button>
        </div>
        <PartForm v-if="opened === name" :part="name" class="open" />
      </div>
    </section>
  </section>
</template>

<style scoped>
.behind {
  margin-top: 28px;
}

h2 {
  font-size: 20px;
  padding-bottom: 4px;
  border-bottom: 1.5px solid var(--ink);
}

header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  min-height: 48px;
  padding-top: 8px;
}

h3 {
  font-size: 17px;
}

.row {
  display: grid;
  content-visibility: auto;
  contain-intrinsic-size: auto 43px;
  grid-template-columns: minmax(0, 3fr) minmax(0, 4fr) 84px minmax(0, 4fr);
  align-items: center;
  gap: 10px;
  min-height: 42px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}

.name {
  min-height: 40px;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: 700;
  text-align: left;
  cursor: pointer;
}

.what {
  font-size: 16px;
}

.now {
  text-align: right;
  font-size: 17px;
}

.lines {
  padding-left: 8px;
}

.open {
  margin: 6px 0 14px;
  padding: 12px 16px;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  border-left: 5px solid var(--petrol);
}

@media (max-width: 760px) {
  .row {
    grid-template-columns: minmax(0, 1fr) auto;
    padding: 4px 0;
  }

  .what,
  .lines {
    grid-column: 1 / -1;
    padding: 0;
  }

  .what:empty,
  .lines:empty {
    display: none;
  }
}
</style>
