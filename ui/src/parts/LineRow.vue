<script setup lang="ts">
/** A folded function: its name over the run in one phrase, the travel rule, the pulse, where it comes out. */
import { useElementVisibility } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'

import type { Line } from '../api/client'
import { wholePulse } from '../figures'
import { useBench } from '../stores/bench'
import TravelRule from './TravelRule.vue'

const props = defineProps<{ line: Line; answering: boolean }>()
const bench = useBench()
/** Only what changes is drawn again, and out of sight only now and then. */
const seen = useElementVisibility(useTemplateRef('row'))
const values = computed(() => (seen.value ? bench.values : bench.calmed))
const p = computed(() => values.value[props.line.p] ?? 0)
const pulse = computed(() => wholePulse(values.value[props.line.pulse] ?? 0))
defineEmits<{ open: []; move: [by: number] }>()
</script>

<template>
  <div ref="row" class="row" :data-line="line.id" @click="$emit('open')">
    <span class="mark" :class="{ answering }" aria-hidden="true" />
    <div class="what">
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
    </div>
    <TravelRule class="small" :rule="line.rule" :p="p" :name="line.label" />
    <span class="pulse fig">{{ pulse }}</span>
    <span class="pin label">{{ line.pin }}</span>
    <span class="ends">{{ line.ends }}</span>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) 190px 58px 52px;
  align-items: center;
  column-gap: 10px;
  min-height: 48px;
  padding: 3px 0;
  content-visibility: auto; /* what is out of sight costs nothing */
  contain-intrinsic-size: auto 49px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
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

.what {
  min-width: 0;
}

.part {
  max-width: 100%;
  min-height: 24px;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: 700;
  line-height: 1.2;
  text-align: left;
  overflow-wrap: anywhere;
  cursor: pointer;
}

.phrase {
  display: block;
  font-size: 0.9375rem;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.pulse {
  text-align: right;
  font-size: 1.125rem;
}

.pin {
  white-space: nowrap;
}

.ends {
  display: none;
  font-size: 0.9375rem;
  line-height: 1.2;
}

/* with the whole width there is room for what is plugged in, too */
@container register (min-width: 880px) {
  .row {
    grid-template-columns: 16px minmax(0, 1fr) 204px 58px 240px;
  }

  .ends {
    display: block;
  }

  .pin {
    display: none;
  }
}

@container register (max-width: 540px) {
  .row {
    grid-template-columns: 16px minmax(0, 1fr) auto auto;
    padding: 6px 0 8px;
  }

  .pulse {
    font-size: 1.25rem;
  }

  .small {
    grid-row: 2;
    grid-column: 1 / -1;
  }
}
</style>
