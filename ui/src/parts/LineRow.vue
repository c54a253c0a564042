<script setup lang="ts">
/** A folded line: the part, the run in one phrase, the travel rule, the pulse, where it ends. */
import { computed } from 'vue'

import type { Line } from '../api/client'
import { useBench } from '../stores/bench'
import LiveValue from './LiveValue.vue'
import TravelRule from './TravelRule.vue'

const props = defineProps<{ line: Line; answering: boolean }>()
const bench = useBench()
/** Only what changes is drawn again. */
const p = computed(() => bench.values[props.line.p] ?? 0)
defineEmits<{ open: []; move: [by: number] }>()
</script>

<template>
  <div class="row" :data-line="line.id" @click="$emit('open')">
    <span class="mark" :class="{ answering }" aria-hidden="true" />
    <button
      type="button"
      class="part"
      aria-expanded="false"
      @click.stop="$emit('open')"
      @keydown.alt.up.prevent="$emit('move', -1)"
      @keydown.alt.down.prevent="$emit('move', 1)"
    >
      {{ line.label }}<span v-if="answering" class="unseen">, answering</span>
    </button>
    <span class="phrase soft">{{ line.phrase }}</span>
    <TravelRule class="small" :rule="line.rule" :p="p" :name="line.label" />
    <LiveValue class="pulse" :value="line.pulse" unit="µs" />
    <span class="ends">{{ line.ends }}</span>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 16px 142px minmax(0, 1fr) 204px 84px 184px;
  align-items: center;
  column-gap: 6px;
  min-height: var(--row);
  content-visibility: auto; /* what is out of sight costs nothing */
  contain-intrinsic-size: auto 45px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}

@container register (min-width: 600px) and (max-width: 880px) {
  .row {
    grid-template-columns: 16px 142px minmax(0, 1fr) 196px 76px;
  }

  .ends {
    display: none;
  }
}

.row:hover .part {
  text-decoration: underline;
}

.mark {
  width: 11px;
  height: 11px;
  border: 1.5px solid var(--rule);
  border-radius: 50%;
}

.mark.answering {
  background: var(--now);
  border-color: var(--ink);
}

.part {
  padding: 0;
  min-height: 40px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: 700;
  text-align: left;
  cursor: pointer;
}

.phrase {
  font-size: 16px;
  line-height: 1.2;
  overflow: hidden;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
}

.pulse {
  text-align: right;
  font-size: 18px;
}

.ends {
  padding-left: 8px;
  font-size: 16px;
  line-height: 1.2;
}

@media (max-width: 760px) {
  .row {
    grid-template-columns: 20px minmax(0, 1fr) auto;
    padding: 6px 0 8px;
  }

  .phrase {
    display: none;
  }

  .pulse {
    font-size: 20px;
    grid-row: 1;
    grid-column: 3;
  }

  .small {
    grid-column: 1 / -1;
  }

  .ends {
    grid-column: 1 / -1;
    padding-left: 0;
    color: var(--soft);
  }
}
</style>
