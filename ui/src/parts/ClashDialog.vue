<script setup lang="ts">
/** A change met another one: what was changed meanwhile, and whether this one goes on top or is dropped. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { computed } from 'vue'

import { useEdits } from '../stores/edits'

const edits = useEdits()
const shown = computed({
  get: () => edits.clash !== undefined,
  set: (on) => on || edits.clash?.settle(false),
})
const undo = computed(() => edits.clash?.problem.type === 'urn:axtren:touched')
</script>

<template>
  <Dialog
    v-model:visible="shown"
    modal
    :header="undo ? 'A later change touched the same place' : 'The model was changed meanwhile'"
    :style="{ width: 'min(620px, 94vw)' }"
  >
    <p>
      {{
        undo
          ? 'Taking your change back would undo this too:'
          : 'Before your change came in, another page made this:'
      }}
    </p>
    <ul>
      <li v-for="revision in edits.clash?.problem.since" :key="revision.number">{{ revision.words }}</li>
    </ul>
    <div class="acts">
      <Button data-clash="on-top" @click="edits.clash?.settle(true)">{{
        undo ? 'Take it back all the same' : 'Put mine on top'
      }}</Button>
      <Button class="quiet" data-clash="drop" @click="edits.clash?.settle(false)">{{
        undo ? 'Leave it as it is' : 'Drop mine'
      }}</Button>
    </div>
  </Dialog>
</template>

<style scoped>
.acts {
  margin-top: 12px;
}
</style>
