<script setup lang="ts">
/** How the pins of each receiver are set by counted flashes, level by level, and the chart that says so. */
import { computed, shallowRef } from 'vue'

import { api, type Act } from '../api/client'
import { useRevised } from '../composables/useRevised'
import { refusalOf } from '../stores/editQueue'
import { useEdits } from '../stores/edits'
import ChartText from './ChartText.vue'
import PinLevels from './PinLevels.vue'

const props = defineProps<{ id: string }>()
const edits = useEdits()
const { answer: codes, problem } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/codes', { params: { path: { id } }, signal }),
)
const refused = shallowRef('')
/** The receiver whose chart is written. */
const writing = shallowRef<string>()
const any = computed(() => codes.value?.receivers.some((r) => r.chart || r.on_off))

/** Does something to the model, and says what is against it. */
async function act(what: Act) {
  refused.value = refusalOf(await edits.act(what))
}

function choose(part: string, select: HTMLSelectElement) {
  const key = select.value
  select.value = ''
  if (key === 'own') writing.value = part
  else if (key) void act({ act: 'chart', part, kind: key })
}
</script>

<template>
  <component :is="any ? 'section' : 'details'" v-if="codes?.receivers.length" data-codes>
    <h3 v-if="any">Codes of the pins</h3>
    <summary v-else>Pins that are set by counted flashes</summary>
    <p v-if="refused" class="fault" role="alert">Nothing was changed: {{ refused }}.</p>
    <div v-for="rx in codes.receivers" :key="rx.part" :data-receiver="rx.part">
      <h4 v-if="codes.receivers.length > 1">{{ rx.receiver }}</h4>
      <p v-if="!rx.chart" class="label">
        <label>
          Where its pins are set by counting the flashes of its lamp, take the chart:
          <select
            class="box"
            :aria-label="`the chart of ${rx.receiver}`"
            @change="choose(rx.part, $event.target as HTMLSelectElement)"
          >
            <option value="">none</option>
            <option v-for="one in codes.charts" :key="one.key" :value="one.key">{{ one.says }}</option>
            <option value="own">one of your own</option>
          </select>
        </label>
      </p>
      <p v-else>
        By the chart “{{ rx.chart }}”.
        <button type="button" class="link" @click="writing = rx.part">Read or change it</button>
        <button type="button" class="link" @click="act({ act: 'chart', part: rx.part })">Take it away</button>
      </p>
      <ChartText
        v-if="writing === rx.part"
        :part="rx.part"
        :name="rx.receiver"
        :text="rx.text"
        @done="writing = undefined"
      />
      <ul v-if="rx.holes.length" class="found">
        <li v-for="hole in rx.holes" :key="hole">
          <span class="mark" aria-hidden="true">▲</span>
          <p>{{ hole }}</p>
        </li>
      </ul>
      <template v-if="rx.chart">
        <p data-open>
          {{
            rx.open
              ? rx.open === 1
                ? 'One pin is to be set.'
                : `${rx.open} pins are to be set.`
              : 'Every pin is set as it is to be, as far as is on record.'
          }}
        </p>
        <ol v-if="rx.open" class="steps">
          <li v-for="one in rx.before" :key="one">{{ one }}</li>
        </ol>
        <PinLevels v-for="pin in rx.pins" :key="pin.pin" :part="rx.part" :pin="pin" @act="act" />
        <ul v-if="rx.open || rx.on_off" class="steps">
          <li v-for="one in rx.after" :key="one">{{ one }}</li>
        </ul>
      </template>
    </div>
  </component>
  <p v-else-if="problem" class="fault" role="alert">{{ problem.title }}.</p>
</template>

<style scoped>
h3 {
  font-size: 1.1875rem;
  margin-bottom: 6px;
}

h4 {
  margin: 10px 0 2px;
  font-size: 1rem;
}

summary {
  min-height: 32px;
  color: var(--petrol);
  cursor: pointer;
}

select {
  display: block;
  width: 100%;
  margin-top: 4px;
}

.steps {
  padding-left: 22px;
}

.steps > li {
  margin: 4px 0;
}

button + button {
  margin-left: 12px;
}
</style>
