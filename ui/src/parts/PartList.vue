<script setup lang="ts">
/** Parts of the model, live, one below the other; each opens as a form in its place. */
import type { Behind } from '../api/client'
import { useBench } from '../stores/bench'
import LiveValue from './LiveValue.vue'
import PartForm from './PartForm.vue'

defineProps<{
  parts: Behind[]
  /** What is said where there is none. */
  empty?: string
  /** Whether the functions that a part acts on are named. */
  acts?: boolean
}>()
const bench = useBench()
const opened = defineModel<string>('opened')

function functions(b: Behind): string {
  const names = b.lines.map((id) => bench.view?.lines.find((l) => l.id === id)?.label ?? id)
  if (names.length === 0) return b.part.startsWith('announcements') ? '' : 'acts on no function'
  return names.length > 3 ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more` : names.join(', ')
}

const toggle = (part: string) => (opened.value = opened.value === part ? undefined : part)
</script>

<template>
  <div>
    <div
      v-for="b in parts"
      :key="b.part"
      class="part"
      :class="{ wide: opened === b.part }"
      :data-behind="b.part"
    >
      <div class="row" @click="toggle(b.part)">
        <p>
          <button
            type="button"
            class="name opens"
            :aria-expanded="opened === b.part"
            @click.stop="toggle(b.part)"
          >
            {{ b.label }}
          </button>
          <span class="soft what"
            >{{ b.words }}<template v-if="acts && functions(b)"> · {{ functions(b) }}</template></span
          >
        </p>
        <LiveValue class="now" :value="b.value" :unit="b.unit" :names="b.names" />
      </div>
      <PartForm
        v-if="opened === b.part"
        :part="b.part"
        class="open"
        @gone="opened = undefined"
        @renamed="opened = $event"
      />
    </div>
    <p v-if="parts.length === 0 && empty" class="soft">{{ empty }}</p>
  </div>
</template>

<style scoped>
.part {
  border-bottom: 1px solid var(--rule);
}

.row {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 14px;
  min-height: var(--row);
  padding: 6px 0;
  cursor: pointer;
}

.row:hover .name {
  text-decoration: underline;
}

.row > :first-child {
  min-width: 0;
}

.now {
  flex: 0 0 auto;
  max-width: 40%;
  text-align: right;
  overflow-wrap: anywhere;
}

p {
  line-height: 1.3;
}

.what {
  font-size: 1rem;
}

.open {
  margin: 0 0 10px;
}
</style>
