<script setup lang="ts">
/** Stage: the picture of the model, large, and what it is made of. */
import Button from 'primevue/button'
import { shallowRef } from 'vue'

import FindingList from '../parts/FindingList.vue'
import StageDock from '../stage/StageDock.vue'
import StageEditor from '../stage/StageEditor.vue'
import { useStage } from '../stores/stage'

defineProps<{ id: string }>()
const stage = useStage()
const changing = shallowRef(false)
</script>

<template>
  <h2 class="unseen">Stage</h2>
  <div v-if="stage.picture" class="place" :class="{ changing }">
    <StageDock :alone="!changing">
      <p class="acts">
        <Button class="quiet" :aria-expanded="changing" @click="changing = !changing">{{
          changing ? 'Leave the picture as it is' : 'Change the picture'
        }}</Button>
      </p>
      <FindingList place="stage" title="What was found" />
    </StageDock>
    <StageEditor v-if="changing" />
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.place.changing {
  display: grid;
  grid-template-columns: minmax(0, 440px) minmax(0, 1fr);
  gap: 24px;
}

@container main (max-width: 860px) {
  .place.changing {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
