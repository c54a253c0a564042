<script setup lang="ts">
/** Small changes with which a claim that is broken holds, each proved; done by a press. */
import Button from 'primevue/button'

import { api } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useRevised } from '../composables/useRevised'
import { useEdits } from '../stores/edits'

const props = defineProps<{ id: string; claim: string }>()
const edits = useEdits()
const { once } = useOnce()
const { answer: cures, problem } = useRevised(
  () => props.id,
  (id, signal) =>
    api.GET('/api/models/{id}/cures', {
      params: { path: { id }, query: { claim: props.claim.replace('claims/', '') } },
      signal,
    }),
)
</script>

<template>
  <div class="cures" role="status" :data-cures="cures?.length">
    <p v-if="problem" class="fault">{{ problem.title }}</p>
    <p v-else-if="!cures" class="soft">Changes are being tried, and each is proved.</p>
    <p v-else-if="!cures.length" class="soft">
      No small change was found that cures it. It is for you to change what the rules say.
    </p>
    <template v-else>
      <p class="label">With any one of these it holds: that is proved</p>
      <div v-for="cure in cures" :key="cure.says" class="cure">
        <p>
          {{ cure.says }}. <b v-for="line in cure.also" :key="line">{{ line }} </b>
        </p>
        <Button
          class="quiet act"
          :aria-label="`Do it: ${cure.says}`"
          @click="once($event, () => edits.keep(cure.patch))"
          >Do it</Button
        >
      </div>
    </template>
  </div>
</template>

<style scoped>
.cures {
  margin: 4px 0 8px;
  line-height: 1.4;
}

.cure {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}

.act {
  flex: none;
}

p {
  margin: 0;
}
</style>
