<script setup lang="ts">
/** Something that happened is noted: a note, that it was run, what was wrong, what was set elsewhere. */
import Button from 'primevue/button'
import { computed, reactive, shallowRef } from 'vue'

import type { Problem, Schemas } from '../api/client'
import { noteEvent } from '../api/events'
import { useOnce } from '../composables/useOnce'
import { typed } from '../figures'

const props = defineProps<{ id: string; parts: Schemas['LogPart'][] }>()
const emit = defineEmits<{ leave: [] }>()
const { once } = useOnce()
const kinds = [
  { key: 'note', name: 'A note' },
  { key: 'run', name: 'It was run' },
  { key: 'fault', name: 'Something was wrong' },
  { key: 'value', name: 'Set with its own program' },
]
const kind = shallowRef('note')
const said = reactive({ part: '', what: '', was: '', becomes: '', says: '', minutes: '', battery: '' })
const problem = shallowRef<Problem>()
const minutes = computed(() => Math.round(typed(said.minutes, 'min') ?? 0))

async function keep() {
  problem.value = await noteEvent(props.id, { ...said, kind: kind.value, minutes: minutes.value })
  if (!problem.value) emit('leave')
}
</script>

<template>
  <form class="noting" data-noting @submit.prevent="once($event, keep)">
    <p class="kinds chosen">
      <Button
        v-for="one in kinds"
        :key="one.key"
        class="quiet"
        :aria-pressed="kind === one.key"
        @click="kind = one.key"
        >{{ one.name }}</Button
      >
    </p>
    <div class="acts">
      <template v-if="kind === 'run'">
        <label>minutes <input v-model="said.minutes" class="box fig" size="5" inputmode="numeric" /></label>
        <label
          >battery <input v-model="said.battery" class="box" maxlength="60" placeholder="battery 2"
        /></label>
      </template>
      <template v-else-if="kind === 'fault' || kind === 'value'">
        <label
          >part
          <select v-model="said.part" class="box">
            <option value="">{{ kind === 'fault' ? 'not said' : 'choose it' }}</option>
            <option v-for="one in parts" :key="one.part" :value="one.part">{{ one.label }}</option>
          </select></label
        >
        <label
          >{{ kind === 'fault' ? 'what was wrong' : 'what was set' }}
          <input
            v-model="said.what"
            class="box"
            maxlength="200"
            :placeholder="kind === 'fault' ? 'hums at rest' : 'timing'"
        /></label>
      </template>
      <template v-if="kind === 'value'">
        <label>was <input v-model="said.was" class="box" maxlength="100" size="8" /></label>
        <label>is now <input v-model="said.becomes" class="box" maxlength="100" size="8" /></label>
      </template>
    </div>
    <label class="says"
      >{{ kind === 'fault' ? 'what mended it' : kind === 'note' ? 'what is to be remembered' : 'a note' }}
      <textarea v-model="said.says" class="box" rows="2" maxlength="2000" />
    </label>
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
    <div class="acts">
      <Button type="submit">Note it</Button>
      <Button class="quiet" @click="emit('leave')">Leave it</Button>
    </div>
  </form>
</template>

<style scoped>
.noting {
  margin: 8px 0 14px;
  padding: 10px 14px;
  border: 1.5px solid var(--ink);
  background: var(--sheet);
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 8px;
}

.says {
  display: block;
  margin: 8px 0;
}

.says textarea {
  display: block;
  width: 100%;
}
</style>
