<script setup lang="ts">
/** One pin: what it is to send, how each level comes to it from what is there, and its lamp test. */
import Button from 'primevue/button'
import { ref } from 'vue'

import type { Act, CodePin } from '../api/client'
import { capital } from '../figures'
import { useOnce } from '../composables/useOnce'

const props = defineProps<{ part: string; pin: CodePin }>()
const emit = defineEmits<{ act: [act: Act] }>()
const { once } = useOnce()
/** What was counted on each level now, where it is other than what is on record. */
const there = ref<Record<number, number>>({})

type Level = CodePin['levels'][number]
const counted = (level: Level) => there.value[level.at] ?? level.written
const step = (level: Level) =>
  counted(level) === level.want && level.written === level.want
    ? undefined
    : level.from.find((one) => one.code === counted(level))?.do

function keep(level: Level) {
  emit('act', {
    act: 'pin_code',
    part: props.part,
    of: `${props.pin.pin}`,
    by: level.at,
    value: level.want,
  })
  delete there.value[level.at]
}
const ask = (act: 'pin_wish' | 'pin_lamp', value: string) =>
  emit('act', { act, part: props.part, of: `${props.pin.pin}`, value })
</script>

<template>
  <div class="pin" :data-pin="pin.pin">
    <label>
      <span class="name"
        ><b>Pin {{ pin.pin }}</b> <span class="soft">{{ pin.hangs }}</span></span
      >
      <select
        class="box"
        :value="pin.wish"
        :aria-label="`what pin ${pin.pin} sends`"
        @change="ask('pin_wish', ($event.target as HTMLSelectElement).value)"
      >
        <option v-if="!pin.choices.some((one) => one.key === pin.wish)" :value="pin.wish">
          {{ pin.says }}
        </option>
        <option v-for="one in pin.choices" :key="one.key" :value="one.key">{{ capital(one.says) }}</option>
      </select>
    </label>
    <p v-if="pin.test" class="soft">{{ capital(pin.says) }}.</p>
    <p v-if="pin.refused" class="fault">{{ pin.refused }}.</p>
    <component :is="pin.open ? 'div' : 'details'" v-if="pin.levels.length && (pin.open || pin.test)">
      <summary v-if="!pin.open">Set: {{ pin.levels.map((one) => one.want).join(' · ') }}</summary>
      <div v-for="level in pin.levels" :key="level.level" class="level" :data-level="level.level">
        <p>
          Level {{ level.level }}, {{ level.says || 'without a name' }}: <b class="fig">{{ level.want }}</b>
          {{ level.want === 1 ? 'flash' : 'flashes' }}
          <span class="soft">({{ level.means }})</span>
          <span v-if="level.written === level.want" class="done">✓ on record</span>
        </p>
        <div class="now">
          <select
            class="box"
            :value="counted(level)"
            :aria-label="`flashes counted now on level ${level.level} for pin ${pin.pin}`"
            @change="there[level.at] = +($event.target as HTMLSelectElement).value"
          >
            <option :value="0">count its flashes</option>
            <option v-for="one in level.from" :key="one.code" :value="one.code">
              {{ one.code }}: {{ one.says }}
            </option>
          </select>
          <Button
            class="quiet"
            :aria-label="`It flashes ${level.want} now: level ${level.level} of pin ${pin.pin}`"
            @click="once($event, async () => keep(level))"
            >It flashes {{ level.want }} now</Button
          >
        </div>
        <p v-if="step(level)" class="do" role="status">{{ step(level) }}</p>
      </div>
    </component>
    <div v-if="pin.test && !pin.open" class="test">
      <p>
        {{ pin.test }} <span v-if="pin.steady !== 'yes'" class="soft">{{ pin.flicker }}</span>
      </p>
      <Button
        v-for="(says, answer) in { yes: 'It is steady', no: 'It flickers' }"
        :key="answer"
        class="quiet"
        :aria-pressed="pin.steady === answer"
        :aria-label="`${says}: the lamp on pin ${pin.pin}`"
        @click="once($event, async () => ask('pin_lamp', pin.steady === answer ? '' : answer))"
        >{{ pin.steady === answer ? '✓ ' : '' }}{{ says }}</Button
      >
    </div>
  </div>
</template>

<style scoped>
.pin {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}

.pin label {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
}

.name {
  flex: 1 1 120px;
}

.pin label select {
  flex: 0 1 224px;
  min-width: 0;
}

.level {
  margin: 8px 0 8px 12px;
}

.now {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 4px;
}

.now select {
  flex: 1 1 150px;
  min-width: 0;
}

.do {
  font-weight: 600;
}

.done {
  margin-left: 6px;
  color: var(--petrol);
  white-space: nowrap;
}

summary {
  min-height: 32px;
  padding-top: 6px;
  color: var(--petrol);
  cursor: pointer;
}

.test button {
  margin: 4px 8px 0 0;
}
</style>
