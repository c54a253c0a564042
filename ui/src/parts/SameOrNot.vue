<script setup lang="ts">
/**
 * Whether two models, two revisions of one, or two rules of its newest, do the same whatever hands do:
 * proved, or how to see that they do not.
 */
import { computed, shallowRef, watch } from 'vue'

import { api, type Schemas } from '../api/client'
import { useBench } from '../stores/bench'

const props = defineProps<{
  id: string
  revision?: number
  with?: string
  withRevision?: number
  rule?: string
  withRule?: string
}>()
const bench = useBench()
/** What two rules do is asked again for each revision. */
const newest = computed(() => (props.rule ? bench.model?.revision : undefined))
const alike = computed(() => (props.rule ? 'do the same' : 'send the same'))
const found = shallowRef<Schemas['Sameness']>()
const failed = shallowRef(false)

watch(
  [
    () => props.id,
    () => props.revision,
    () => props.with,
    () => props.withRevision,
    () => props.rule,
    () => props.withRule,
    () => newest.value,
  ],
  async (_now, _before, onCleanup) => {
    const gone = new AbortController()
    onCleanup(() => gone.abort())
    found.value = undefined
    failed.value = false
    try {
      const answer = await api.GET('/api/models/{id}/same', {
        params: {
          path: { id: props.id },
          query: {
            revision: props.revision,
            with: props.with,
            with_revision: props.withRevision,
            rule: props.rule,
            with_rule: props.withRule,
          },
        },
        signal: gone.signal,
      })
      found.value = answer.data
      failed.value = !answer.data
    } catch {
      failed.value = !gone.signal.aborted
    }
  },
  { immediate: true },
)

const marks = { holds: '✓', fails: '≠', undecided: '?', unlike: '–' }
</script>

<template>
  <div class="same" :data-same="found?.verdict ?? (failed ? 'failed' : 'looking')" role="status">
    <span class="mark" aria-hidden="true">{{ found ? marks[found.verdict] : '…' }}</span>
    <p v-if="failed">It could not be found out whether they {{ alike }}. Try again.</p>
    <p v-else-if="!found">Whether they {{ alike }} is being searched.</p>
    <div v-else-if="found.verdict === 'fails'">
      <p>They do not {{ alike }}.<template v-if="found.lines.length > 1"> To see it:</template></p>
      <ol v-if="found.lines.length > 1">
        <li v-for="(line, i) in found.lines" :key="i">{{ line }}</li>
      </ol>
      <p v-else>{{ found.lines[0] }}</p>
    </div>
    <p v-else>
      <template v-if="found.verdict === 'undecided'">It is not proved that they {{ alike }}. </template>
      <template v-else-if="found.verdict === 'unlike'">They cannot be compared. </template>
      <span v-for="(line, i) in found.lines" :key="i">{{ line }}</span>
    </p>
  </div>
</template>

<style scoped>
.same {
  display: flex;
  gap: 10px;
  margin: 10px 0;
  line-height: 1.4;
}

.mark {
  flex: 0 0 22px;
  font-size: 1.125rem;
  font-weight: 700;
  text-align: center;
}

p {
  margin: 0;
}

ol {
  margin: 2px 0;
  padding-left: 22px;
}
</style>
