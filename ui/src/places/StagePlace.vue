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
    <div>
      <StageDock alone />
      <p class="acts">
        <Button class="quiet" :aria-expanded="changing" @click="changing = !changing">{{
          changing ? 'Leave the picture as it is' : 'Change the picture'
        }}</Button>
      </p>
      <FindingList place="stage" title="What was found" />
    </div>
    <StageEditor v-if="changing" />
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.place {
  display: grid;
  grid-template-columns: minmax(0, 620px);
  gap: 24px;
}

.place.changing {
  grid-template-columns: minmax(0, 440px) minmax(0, 1fr);
}

.acts {
  margin-top: 10px;
}

@media (max-width: 1020px) {
  .place.changing {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
