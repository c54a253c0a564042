<script setup lang="ts">
/** Step boxes: what each does, what it never learns of, and how it is set by its button and flashes. */
import Button from 'primevue/button'
import { shallowRef } from 'vue'

import type { Schemas } from '../api/client'
import ChartText from '../parts/ChartText.vue'

defineProps<{ boxes: Schemas['RuleBox'][] }>()
const open = shallowRef('')
const writing = shallowRef('')
const blank = `label: its small chart
enters: how its lamp begins to flash
up: what makes it one more
next: how the next level is reached
keeps: what keeps it
levels:
  - sets: steps
    values: [{code: 1, is: 2}, {code: 2, is: 3}]
  - sets: start
    values: [{code: 1, is: 1}, {code: 2, is: 2}]
`
</script>

<template>
  <section class="boxes" aria-label="Step boxes">
    <h3>Step boxes</h3>
    <div v-for="box in boxes" :key="box.part" class="one" :data-box="box.part">
      <p>
        <b>{{ box.title }}</b> <span class="soft">{{ box.says }}</span>
      </p>
      <p v-if="box.blind" class="blind" data-blind>{{ box.blind }}</p>
      <p class="acts">
        <Button
          v-if="box.chart"
          class="quiet"
          :aria-expanded="open === box.part"
          @click="open = open === box.part ? '' : box.part"
          >How it is set</Button
        >
        <Button class="quiet" @click="writing = writing === box.part ? '' : box.part">{{
          box.chart ? 'Its chart' : 'Write down its small chart'
        }}</Button>
      </p>
      <template v-if="open === box.part">
        <p class="label">By the chart “{{ box.chart }}”.</p>
        <p v-for="one in box.refused" :key="one" class="fault">{{ one }}</p>
        <ol>
          <li v-for="(step, i) in box.program" :key="i">{{ step }}</li>
        </ol>
      </template>
      <ChartText
        v-if="writing === box.part"
        :part="box.part"
        :name="box.title"
        :text="box.text"
        :begins="blank"
        @done="writing = ''"
      />
    </div>
  </section>
</template>

<style scoped>
.boxes {
  margin-top: 18px;
}

h3 {
  font-size: 1.1875rem;
}

.one {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

.one p {
  margin: 2px 0;
}

.blind {
  padding-left: 10px;
  border-left: 3px solid var(--ink);
}

ol {
  margin: 4px 0;
  padding-left: 24px;
}

li {
  padding: 2px 0;
}
</style>
