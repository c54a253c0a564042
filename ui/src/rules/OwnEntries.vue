<script setup lang="ts">
/** The rules in the entries of one's own transmitter, proved the same, or where they differ; on demand. */
import Button from 'primevue/button'
import { shallowRef, watch } from 'vue'

import { api, type Schemas } from '../api/client'
import { useBench } from '../stores/bench'

const props = defineProps<{ id: string }>()
const bench = useBench()
const asked = shallowRef(false)
const told = shallowRef<Schemas['EntriesTold']>()
const failed = shallowRef(false)

watch(
  () => props.id,
  () => (asked.value = false),
)
watch([() => props.id, () => bench.model, () => asked.value], async (_now, _before, onCleanup) => {
  const gone = new AbortController()
  onCleanup(() => gone.abort())
  told.value = undefined
  failed.value = false
  if (!asked.value) return
  try {
    const answer = await api.GET('/api/models/{id}/entries', {
      params: { path: { id: props.id } },
      signal: gone.signal,
    })
    told.value = answer.data
    failed.value = !answer.data
  } catch {
    failed.value = !gone.signal.aborted
  }
})
</script>

<template>
  <section class="own" aria-label="In this transmitter’s own entries" :data-entries="told?.verdict">
    <header>
      <h3>In this transmitter’s own entries</h3>
      <Button class="quiet" :aria-expanded="asked" @click="asked = !asked">{{
        asked ? 'Put away' : 'Write them'
      }}</Button>
    </header>
    <div role="status">
      <p v-if="failed" class="fault">They could not be written. Try again.</p>
      <p v-else-if="asked && !told" class="soft">They are being written and proved.</p>
    </div>
    <template v-if="told">
      <p v-if="!told.known" class="soft">
        What entries this transmitter has is not known: it is taken as a usual one. Kit says what it has.
      </p>
      <p v-for="line in told.left" :key="line">{{ line }}</p>
      <template v-if="told.verdict === 'fails'">
        <p><b>They do not do what the rules say.</b> To see it:</p>
        <ol>
          <li v-for="(line, i) in told.lines" :key="i">{{ line }}</li>
        </ol>
      </template>
      <p v-else>
        <b v-if="told.verdict === 'undecided'">It is not proved that they do what the rules say. </b>
        {{ told.lines.join(' ') }}
      </p>
      <dl v-if="told.entries.length">
        <div v-for="entry in told.entries" :key="entry.name">
          <dt>{{ entry.name }}</dt>
          <dd>
            <b>{{ entry.kind }}</b>: {{ entry.takes }}
          </dd>
        </div>
      </dl>
      <details v-if="told.plain.length" data-plain>
        <summary>Keyed in one by one as they stand, they would not do the same here</summary>
        <ol>
          <li v-for="(line, i) in told.plain" :key="i">{{ line }}</li>
        </ol>
      </details>
      <template v-if="told.rests.length">
        <p>It rests on what is not known of this transmitter:</p>
        <ul>
          <li v-for="line in told.rests" :key="line">{{ line }}</li>
        </ul>
      </template>
    </template>
  </section>
</template>

<style scoped>
.own {
  margin-top: 18px;
  line-height: 1.4;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 14px;
}

h3 {
  font-size: 1.1875rem;
}

p {
  margin: 6px 0;
}

dl {
  margin: 6px 0;
}

dl div {
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}

dd {
  margin: 0;
}

summary {
  min-height: 32px;
  color: var(--petrol);
  cursor: pointer;
}

ol,
ul {
  margin: 2px 0;
  padding-left: 22px;
}
</style>
