<script setup lang="ts">
/** The controls of a transmitter: drawn as they lie in the hands, and by their names; one opens as a form. */
import { computed, shallowRef, watch } from 'vue'

import type { Behind } from '../api/client'
import { useBench } from '../stores/bench'
import PartForm from './PartForm.vue'
import PlacePicker from './PlacePicker.vue'
import TransmitterDrawing from './TransmitterDrawing.vue'

/** On the shelf nothing is driven, and no hand moves anything. */
const props = defineProps<{ parts: Behind[]; shelved?: boolean }>()
const bench = useBench()
const opened = defineModel<string>('opened')

/** Whether what is added is pointed at on the drawing. */
const pointing = shallowRef(false)
watch(
  () => props.parts.length,
  (now, before) => {
    if (before === 0 && now) pointing.value = true // it goes on as it was begun
  },
)
const moving = computed(() => (bench.moving ? `controls/${bench.moving}` : ''))
/** The control that has the focus, of which something is said while nothing moves. */
const looked = shallowRef('')

const joined = new Intl.ListFormat('en-GB')
function acts(b: Behind): string {
  const names = b.lines.map((id) => bench.view?.lines.find((l) => l.id === id)?.label ?? '')
  return names.length ? `${b.label} acts on ${joined.format(names)}.` : `${b.label} acts on no function yet.`
}
</script>

<template>
  <div>
    <div v-if="parts.length === 0" class="first">
      <PlacePicker class="drawing" />
      <p class="soft">
        There is no control yet. Add the sticks and switches that
        {{ shelved ? 'it has' : 'this model uses' }}. <slot />
      </p>
    </div>
    <div v-else class="hand">
      <div class="drawing">
        <PlacePicker v-if="pointing" />
        <TransmitterDrawing v-else :controls="bench.view?.controls ?? []" />
        <button type="button" class="link" :aria-pressed="pointing" @click="pointing = !pointing">
          {{ pointing ? 'done' : 'point at what to add' }}
        </button>
      </div>
      <div>
        <ul>
          <li v-for="b in parts" :key="b.part" :data-behind="b.part" :class="{ moving: b.part === moving }">
            <button
              type="button"
              class="link name"
              :aria-expanded="opened === b.part"
              @click="opened = opened === b.part ? undefined : b.part"
              @focus="looked = b.part"
            >
              {{ b.label }}
            </button>
            <span v-if="b.lines.length === 0 && !shelved" class="label">free</span>
          </li>
        </ul>
        <div class="below">
          <p v-if="!shelved" class="label acts" role="status">
            <template v-for="b in parts" :key="b.part">{{
              b.part === (moving || looked) ? acts(b) : ''
            }}</template>
            <template v-if="!moving && !looked">Move a control to find it.</template>
          </p>
          <slot />
        </div>
      </div>
    </div>
    <template v-for="b in parts" :key="b.part">
      <div v-if="opened === b.part" :data-form="b.part">
        <PartForm :part="b.part" @gone="opened = undefined" @renamed="opened = $event" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.hand {
  display: grid;
  grid-template-columns: minmax(200px, 290px) minmax(0, 1fr);
  gap: 4px 22px;
  align-items: start;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
  columns: 2;
  column-gap: 16px;
}

li {
  display: flex;
  align-items: baseline;
  gap: 8px;
  break-inside: avoid;
}

.name {
  min-height: 40px;
  text-align: left;
  line-height: 1.2;
  overflow-wrap: anywhere;
}

.moving .name::before {
  content: '';
  display: inline-block;
  width: 11px;
  height: 11px;
  margin-right: 6px;
  background: var(--now);
  border: 1.5px solid var(--ink);
  border-radius: 50%;
}

.below {
  display: flex;
  align-items: center;
  gap: 12px;
}

.acts {
  flex: 1 1 0;
  min-height: 2.6em;
  margin: 0;
  padding: 0;
  border: 0;
}

.first {
  display: grid;
  grid-template-columns: minmax(200px, 290px) minmax(0, 1fr);
  gap: 4px 22px;
}

@container main (max-width: 560px) {
  .first {
    grid-template-columns: minmax(0, 1fr);
  }

  .hand {
    grid-template-columns: minmax(0, 1fr);
  }

  .drawing {
    max-width: 290px;
    justify-self: center;
  }
}
</style>
