<script setup lang="ts">
/** Small changes with which a claim that is broken holds, each proved; done by a press. */
import Button from 'primevue/button'
import { shallowRef, watch } from 'vue'

import { api, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const props = defineProps<{ id: string; claim: string }>()
const bench = useBench()
const edits = useEdits()
const { once } = useOnce()
const cures = shallowRef<Schemas['Cure'][]>()
const failed = shallowRef(false)

watch(
  [() => props.id, () => props.claim, () => bench.model?.revision],
  async (_now, _before, onCleanup) => {
    const gone = new AbortController()
    onCleanup(() => gone.abort())
    cures.value = undefined
    failed.value = false
    try {
      const answer = await api.GET('/api/models/{id}/cures', {
        params: { path: { id: props.id }, query: { claim: props.claim.replace('claims/', '') } },
        signal: gone.signal,
      })
      cures.value = answer.data
      failed.value = !answer.data
    } catch {
      failed.value = !gone.signal.aborted
    }
  },
  { immediate: true },
)
</script>

<template>
  <div class="cures" role="status" :data-cures="cures?.length">
    <p v-if="failed" class="fault">It could not be looked for. Try again.</p>
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
