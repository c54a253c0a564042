<script setup lang="ts">
/** The end of a walk: what was seen in all, and who signs it, with what battery. */
import Button from 'primevue/button'
import { computed, shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { whole } from '../moments'

const props = defineProps<{ walk: Schemas['Walk']; sign: (by: Schemas['Signing']) => Promise<void> }>()
const emit = defineEmits<{ back: []; drop: [] }>()
const { once } = useOnce()
const who = shallowRef('')
const battery = shallowRef('')
const note = shallowRef('')
const signed = computed(() => props.walk.head.signed)
const otherwise = computed(() =>
  props.walk.ticks
    .filter((tick) => tick.seen !== 'as')
    .map((tick) => {
      const part = props.walk.steps[tick.step]?.parts.find((one) => one.of === tick.part)
      const way = props.walk.ways
        .find((one) => one.of === tick.part)
        ?.says.find((one) => one.key === tick.does)
      const reads = tick.reads && `the display reads ${tick.reads}`
      const did = [way?.words, tick.note, reads].filter(Boolean).join('; ')
      const should = part?.should ?? 'as it was'
      const seen = did || (tick.seen === 'nothing' ? 'nothing moved' : 'something else')
      return `Step ${tick.step + 1}, ${part?.label ?? 'all else'}. Expected: ${should}. Seen: ${seen}.`
    }),
)
</script>

<template>
  <div class="sign" data-sign>
    <p v-if="walk.of.length" class="soft">Of {{ walk.of.join(', ') }} alone.</p>
    <h3 v-if="signed">Signed by {{ signed.who }}, {{ whole(signed.at) }}</h3>
    <h3 v-else-if="walk.head.done < walk.steps.length">
      {{ walk.head.done }} of {{ walk.steps.length }} steps are tried
    </h3>
    <h3 v-else>{{ otherwise.length ? 'Tried, and not all is as it should' : 'All is as it should' }}</h3>
    <ul v-if="otherwise.length">
      <li v-for="line in otherwise" :key="line">{{ line }}</li>
    </ul>
    <template v-if="signed">
      <p>
        For revision {{ walk.head.revision }}<template v-if="signed.battery">, {{ signed.battery }}</template
        >.
      </p>
      <p v-if="signed.note" class="note">{{ signed.note }}</p>
      <p class="soft">
        The document for which it stands has the SHA-256 <span class="fig hash">{{ signed.hash }}</span>,
        exported as YAML.
      </p>
    </template>
    <form v-else @submit.prevent="once($event, () => sign({ who, battery, note }))">
      <label for="who">Who signs it</label>
      <input id="who" v-model="who" class="box" maxlength="80" autocomplete="name" required />
      <label for="battery">With which battery</label>
      <input id="battery" v-model="battery" class="box" maxlength="120" placeholder="battery 1, 7.6 V" />
      <label for="walk-note">A note</label>
      <textarea id="walk-note" v-model="note" class="box" rows="3" maxlength="2000" />
      <div class="acts">
        <Button type="submit" :disabled="!who.trim()">Sign it for revision {{ walk.head.revision }}</Button>
        <Button class="quiet" @click="emit('back')">Back</Button>
        <button type="button" class="link" @click="emit('drop')">Throw this walk away</button>
      </div>
    </form>
  </div>
</template>

<style scoped>
h3 {
  margin: 0 0 12px;
  font-size: 1.75rem;
  line-height: 1.2;
}

form {
  display: grid;
  grid-template-columns: 150px minmax(0, 420px);
  align-items: center;
  gap: 8px 14px;
}

.acts {
  grid-column: 1 / -1;
}

.hash {
  overflow-wrap: anywhere;
}

.note {
  white-space: pre-wrap;
}

@container main (max-width: 720px) {
  form {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
