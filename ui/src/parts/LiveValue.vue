<script setup lang="ts">
/** A value as it is now. It is drawn again only where its text changes. */
import { computed } from 'vue'

import { isFigure, shown } from '../figures'
import { useBench } from '../stores/bench'

const props = defineProps<{ value: number; unit: string; names?: string[] }>()
const bench = useBench()
const text = computed(() =>
  props.value < 0 ? '' : shown(bench.values[props.value] ?? 0, props.unit, props.names),
)
</script>

<template>
  <span :class="{ fig: isFigure(text) }">{{ text }}</span>
</template>
