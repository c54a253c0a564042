<script setup lang="ts">
/** A rule as a sentence whose places can be filled. */
import { computed } from 'vue'

import type { Schemas } from '../api/client'

const props = defineProps<{
  says: Schemas['RulePiece'][]
  /** The place that is open. */
  open?: string
  /** Only to be read: without what is so of most. */
  brief?: boolean
  /** The places that have to be filled. */
  needs?: string[]
}>()
defineEmits<{ pick: [place: string] }>()
const pieces = computed(() => props.says.filter((piece) => !piece.empty && !(props.brief && piece.usual)))
const told = computed(() =>
  pieces.value
    .map((piece) => piece.text)
    .join('')
    .replace(/ +([,.])/g, '$1')
    .replace(/ +/g, ' '),
)
/** What is not filled, and may be left so, stands after the sentence; what has to be filled stands in it. */
const more = computed(() => props.says.filter((piece) => piece.empty && !needed(piece.place)))
const shown = computed(() => props.says.filter((piece) => !piece.empty || needed(piece.place)))
const needed = (place: string) => props.needs?.includes(place) ?? false
</script>

<template>
  <span v-if="brief">{{ told }}</span>
  <p v-else class="sentence">
    <template v-for="(piece, i) in shown" :key="i"
      ><span
        v-if="piece.place"
        role="button"
        tabindex="0"
        :class="['place', { empty: piece.empty, open: open === piece.place }]"
        :data-fill="piece.place"
        :aria-expanded="open === piece.place"
        @click="$emit('pick', piece.place)"
        @keydown.enter.prevent="$emit('pick', piece.place)"
        @keydown.space.prevent="$emit('pick', piece.place)"
        >{{ piece.empty ? `[${piece.text}]` : piece.text }}</span
      ><template v-else>{{ piece.text }}</template></template
    ><span v-if="more.length" class="more"
      >It can also be told
      <template v-for="(piece, i) in more" :key="piece.place"
        ><template v-if="i">, </template
        ><span
          role="button"
          tabindex="0"
          :class="['place', 'empty', { open: open === piece.place }]"
          :data-fill="piece.place"
          :aria-expanded="open === piece.place"
          @click="$emit('pick', piece.place)"
          @keydown.enter.prevent="$emit('pick', piece.place)"
          @keydown.space.prevent="$emit('pick', piece.place)"
          >{{ piece.text }}</span
        ></template
      ></span
    >
  </p>
</template>

<style scoped>
.sentence {
  margin: 6px 0;
  line-height: 1.6;
}

.more {
  display: block;
  color: var(--soft);
  font-size: 0.9688rem;
}

.place {
  border-bottom: 2px dotted var(--petrol);
  color: var(--petrol);
  font-weight: 650;
  cursor: pointer;
  overflow-wrap: anywhere;
}

.place.open {
  background: var(--deck);
  border-bottom-style: solid;
}

.place.empty {
  color: var(--soft);
  font-weight: 400;
}
</style>
