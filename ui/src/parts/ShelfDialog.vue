<script setup lang="ts">
/** Choosing a piece of the shelf: of all that there are, or of one kind. */
import Dialog from 'primevue/dialog'
import { computed, shallowRef, watch } from 'vue'

import { api, unreachable, type Problem, type ShelfPiece } from '../api/client'
import { useOnce } from '../composables/useOnce'

const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{
  header: string
  /** Only pieces of this kind, and, of devices, of this sort. */
  kind?: string
  device?: string
}>()
const emit = defineEmits<{ choose: [piece: ShelfPiece] }>()
const pieces = shallowRef<ShelfPiece[]>()
const problem = shallowRef<Problem>()
const find = shallowRef('')
const { once } = useOnce()

watch(
  visible,
  async (now) => {
    if (!now) return
    find.value = ''
    const answer = await api.GET('/api/shelf').catch(() => ({ data: undefined, error: unreachable }))
    problem.value = answer.error
    pieces.value = answer.data?.pieces ?? pieces.value
  },
  { immediate: true }, // it comes when it is asked for
)

const shown = computed(() => {
  const words = find.value.toLowerCase()
  return (pieces.value ?? []).filter(
    (p) =>
      !p.broken &&
      (props.kind ? p.kind === props.kind : p.kind !== 'transmitter') &&
      (!props.device || p.device === props.device) &&
      `${p.name} ${p.says} ${p.known}`.toLowerCase().includes(words),
  )
})
/** A long list is found in by its words. */
const most = 60
</script>

<template>
  <Dialog v-model:visible="visible" modal :header :style="{ width: 'min(680px, 94vw)' }">
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
    <input
      v-if="pieces && pieces.length > 8"
      v-model="find"
      class="box"
      type="search"
      placeholder="Search"
      aria-label="Search the shelf"
    />
    <p v-if="pieces && !shown.length" class="soft">
      There is no such piece on your shelf yet. Put one there out of this model, or in
      <RouterLink to="/shelf">your shelf</RouterLink>.
    </p>
    <ul>
      <li v-for="piece in shown.slice(0, most)" :key="piece.id">
        <button
          type="button"
          class="link"
          :data-choose="piece.id"
          @click="once($event, async () => emit('choose', piece))"
        >
          {{ piece.name }}
        </button>
        <span class="soft">{{ piece.says }}; {{ piece.places }}</span>
      </li>
    </ul>
    <p v-if="shown.length > most" class="soft">{{ shown.length - most }} more: search for its words.</p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 12px;
  border-bottom: 1px solid var(--rule);
}

li button {
  min-height: 40px;
}
</style>
