<script setup lang="ts">
/** The first reason for a choice of the plan; pressed, it opens what another one would cost. */
import { capital } from '../figures'

defineProps<{
  /** outputs/horn or controls/helm */
  of: string
  why: string[]
  /** What is there, for who cannot see the row: Horn is there. */
  says: string
  /** The person fixed it. */
  kept: boolean
  opened: boolean
}>()
const emit = defineEmits<{ toggle: [] }>()
</script>

<template>
  <button
    type="button"
    class="link"
    :data-why="of"
    :aria-expanded="opened"
    :aria-label="`${capital(why[0] ?? '')}: why ${says}`"
    @click="emit('toggle')"
  >
    <span v-if="kept" class="kept" aria-hidden="true">◆</span>{{ capital(why[0] ?? '') }}
  </button>
</template>

<style scoped>
button {
  min-height: 32px;
  text-align: left;
  font-size: 1rem;
  line-height: 1.25;
  color: var(--soft);
  text-decoration: none;
}

button:is(:hover, [aria-expanded='true']) {
  color: var(--petrol);
  text-decoration: underline;
}

.kept {
  color: var(--ink);
  margin-right: 6px;
}
</style>
