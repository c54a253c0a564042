<script setup lang="ts">
/** One joint of the run: its caption, a dot on the line, the value after it. */
import { computed } from 'vue'

import type { Joint } from '../api/client'
import { isFigure, shown as shownAs } from '../figures'

const props = defineProps<{
  joint: Joint
  values: number[]
  chosen: boolean
  live?: boolean
  /** What its caption begins with: which of two lines it is of. */
  before?: string
}>()
defineEmits<{ choose: [] }>()

const shown = computed(() =>
  props.joint.value < 0
    ? props.joint.text
    : shownAs(props.values[props.joint.value] ?? 0, props.joint.unit, props.joint.names),
)
</script>

<template>
  <button
    type="button"
    class="joint"
    :class="{ chosen, live }"
    :aria-pressed="chosen"
    :data-joint="joint.key"
    @click="$emit('choose')"
  >
    <span class="label caption"
      ><strong v-if="before">{{ before }}: </strong>{{ joint.caption
      }}<template v-if="joint.unit === 'µs'"> µs</template></span
    >
    <span class="run"><span class="dot" /></span>
    <span class="value" :class="{ fig: isFigure(shown), words: !isFigure(shown) }">{{ shown }}</span>
  </button>
</template>

<style scoped>
.joint {
  flex: 1 1 auto;
  display: grid;
  justify-items: start;
  padding: 2px 0 4px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
  min-height: 40px;
}

.caption {
  padding-right: 14px;
  white-space: nowrap;
}

.run {
  justify-self: stretch;
  height: 10px;
  background: linear-gradient(var(--ink), var(--ink)) 0 50% / 100% 1.3px no-repeat;
}

.dot {
  display: block;
  width: 10px;
  height: 10px;
  border: 1.5px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
}

.live .dot {
  background: var(--now);
}

.value {
  font-size: 1.1875rem;
  line-height: 26px;
  font-weight: 650;
  padding-right: 14px;
}

/* a value takes the room of the longest, −100.0: what moves a lever moves no joint */
.value.fig {
  box-sizing: content-box;
  min-width: 6ch;
}

.words {
  font-size: 1.0625rem;
}

@container register (min-width: 600px) and (max-width: 880px) {
  .caption {
    padding-right: 9px;
    max-width: 112px;
    white-space: normal;
  }

  .value {
    padding-right: 9px;
    font-size: 1.125rem;
  }

  .joint {
    align-content: end;
  }
}

.chosen .caption {
  color: var(--petrol);
  font-weight: 700;
}

.chosen .dot {
  background: var(--petrol);
  border-color: var(--petrol);
}

.joint:hover .caption {
  text-decoration: underline;
}
</style>
