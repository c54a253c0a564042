<script setup lang="ts">
/** The drawing of a transmitter on which one points at what is to be added, or moves it on a gamepad. */
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import type { View } from '../api/client'
import { gamepadTaker, gamepadThere, type Binding } from '../composables/useGamepad'
import { capital } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import TransmitterDrawing from './TransmitterDrawing.vue'

const bench = useBench()
const edits = useEdits()
const said = shallowRef('')
const wrong = shallowRef('')
type Place = View['kit']['places'][number]

/** Where each place lies on the drawing, in its units; the others stand below it. */
const lies: Record<string, [number, number]> = {
  left_stick: [76, 102],
  right_stick: [224, 102],
  left_switch: [104, 17],
  left_lever: [133, 17],
  right_lever: [167, 17],
  right_switch: [196, 17],
  left_button: [98, 180],
  right_button: [202, 180],
  left_slider: [121, 152],
  middle_slider: [150, 152],
  right_slider: [179, 152],
}
/** A stick with both of its ways is whole. */
const whole = (place: Place) =>
  bench.view?.controls.filter((c) => place.key === `${c.stick}_stick`).length === 2
const places = computed(() => bench.view?.kit.places ?? [])
const at = (place: Place) => {
  const [x, y] = lies[place.key] ?? [0, 0]
  return { left: `${(100 * x) / 300}%`, top: `${(100 * y) / 208}%` }
}

/** One after the other: each is made of the transmitter with the one before. */
let last: Promise<unknown> = Promise.resolve()
function add(place: Place): Promise<string | undefined> {
  const own = last.then(async () => {
    const outcome = await edits.act({ act: 'add', part: 'controls', kind: place.key })
    wrong.value = outcome.kept ? '' : (outcome.problem.errors?.[0]?.message ?? outcome.problem.title)
    said.value = outcome.kept ? `${capital(place.name)} was added.` : ''
    await edits.caughtUp()
    return outcome.kept ? outcome.part?.split('/')[1] : undefined
  })
  last = own.catch(() => undefined)
  return own
}

/** What lies where on a usual gamepad: two sticks first, buttons by turns; common practice, no source. */
function placeOf(moved: Binding): Place | undefined {
  const key =
    moved.axis === undefined
      ? (moved.button ?? 0) % 2
        ? 'right_button'
        : 'left_button'
      : (['left_stick', 'left_stick', 'right_stick', 'right_stick'][moved.axis] ?? 'middle_slider')
  return places.value.find((place) => place.key === key)
}
watch(
  gamepadThere,
  (there) => {
    gamepadTaker.value = there
      ? async (moved) => {
          const place = placeOf(moved)
          const id = place && (await add(place))
          return place?.key.endsWith('stick') ? undefined : id // the sticks of a gamepad are known
        }
      : undefined
  },
  { immediate: true },
)
onBeforeUnmount(() => (gamepadTaker.value = undefined))
</script>

<template>
  <div class="picker">
    <div class="drawn">
      <TransmitterDrawing :controls="bench.view?.controls ?? []" />
      <button
        v-for="place in places.filter((p) => lies[p.key] && !whole(p))"
        :key="place.key"
        type="button"
        class="place"
        :style="at(place)"
        :data-place="place.key"
        :aria-label="`Add ${place.name}`"
        :title="capital(place.name)"
        @click="add(place)"
      >
        +
      </button>
    </div>
    <p class="acts">
      <button
        v-for="place in places.filter((p) => !lies[p.key])"
        :key="place.key"
        type="button"
        class="link"
        :data-place="place.key"
        @click="add(place)"
      >
        add {{ place.name }}
      </button>
    </p>
    <p class="label" role="status">
      {{ said || `Point at what yours has${gamepadThere ? ', or move it on the gamepad' : ''}.` }}
    </p>
    <p v-if="wrong" class="fault" role="alert">Nothing was added: {{ wrong }}.</p>
  </div>
</template>

<style scoped>
.drawn {
  position: relative;
}

.place {
  position: absolute;
  width: 25px;
  height: 25px;
  padding: 0;
  border: 1.5px dashed var(--petrol);
  border-radius: 50%;
  background: var(--sheet);
  color: var(--petrol);
  font: inherit;
  font-weight: 700;
  line-height: 1;
  transform: translate(-50%, -50%);
  cursor: pointer;
}

.place:hover {
  background: var(--petrol);
  color: var(--sheet);
}

.acts {
  display: flex;
  gap: 16px;
}

p {
  margin: 2px 0 0;
}
</style>
