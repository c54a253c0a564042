<script setup lang="ts">
/** Stage: the picture of the model, large, where it is not docked beside another place. */
import StageDock from '../stage/StageDock.vue'
import { useBench } from '../stores/bench'

const bench = useBench()
</script>

<template>
  <h2 class="unseen">Stage</h2>
  <StageDock v-if="bench.stage" class="alone" alone />
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.alone {
  max-width: 620px;
}
</style>
