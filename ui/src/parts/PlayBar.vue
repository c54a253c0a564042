<script setup lang="ts">
/** What plays instead of the hands: a time ruler with the movements on it, speed, single frames. */
import Button from 'primevue/button'
import { computed } from 'vue'

import type { Playing } from '../api/client'
import { useBench } from '../stores/bench'
import { usePlayer } from '../stores/player'

const props = defineProps<{ playing: Playing; name: string }>()
const bench = useBench()
const player = usePlayer()
const seconds = (frame: number) => ((frame * bench.frameMs) / 1000).toFixed(2)
const share = (frame: number) => `${(100 * frame) / Math.max(props.playing.of, 1)}%`
const speeds = [0.25, 0.5, 1, 2, 4]
const runs = computed(() => props.playing.run > 0)

function play(how: { run?: number; seek?: number }) {
  player.play(props.playing.recording, how)
}

function step(by: number) {
  play({ run: 0, seek: Math.min(Math.max(props.playing.at + by, 0), props.playing.of) })
}
</script>

<template>
  <section class="player" aria-label="Recordings">
    <p class="name">
      <strong>{{ name }}</strong>
      <span class="label">plays instead of the hands; move a lever to take over</span>
    </p>
    <p v-if="playing.why" role="alert">It cannot be played with the model as it is now: {{ playing.why }}</p>
    <template v-else>
      <div class="ruler">
        <span
          v-for="mark in playing.marks"
          :key="mark"
          class="mark"
          :style="{ left: share(mark) }"
          aria-hidden="true"
        />
        <span class="at" :style="{ left: share(playing.at) }" aria-hidden="true" />
        <input
          type="range"
          min="0"
          :max="playing.of"
          :value="playing.at"
          aria-label="Time"
          :aria-valuetext="`${seconds(playing.at)} of ${seconds(playing.of)} seconds`"
          @input="play({ run: 0, seek: Number(($event.target as HTMLInputElement).value) })"
        />
      </div>
      <span class="fig time">{{ seconds(playing.at) }} s</span>
    </template>
    <div class="acts">
      <Button class="quiet" aria-label="−1, one frame back" @click="step(-1)">−1</Button>
      <Button class="quiet" :aria-label="runs ? 'Hold' : 'Play'" @click="play({ run: runs ? 0 : 1 })">{{
        runs ? 'Hold' : 'Play'
      }}</Button>
      <Button class="quiet" aria-label="+1, one frame on" @click="step(1)">+1</Button>
      <label class="label"
        >speed
        <select
          class="box"
          :value="playing.run || 1"
          @change="play({ run: Number(($event.target as HTMLSelectElement).value) })"
        >
          <option v-for="speed in speeds" :key="speed" :value="speed">{{ speed }}</option>
        </select></label
      >
      <Button class="quiet" @click="player.play('')">Back to the hands</Button>
    </div>
  </section>
</template>

<style scoped>
.player {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  padding: 8px 20px;
  background: var(--deck);
  border-top: 1.5px solid var(--ink);
}

.name {
  max-width: 300px;
}

.name .label {
  display: block;
}

.ruler {
  position: relative;
  flex: 1 1 260px;
  height: 40px;
  border-bottom: 1.5px solid var(--ink);
}

.mark {
  position: absolute;
  bottom: 0;
  width: 1px;
  height: 9px;
  background: var(--soft);
}

.at {
  position: absolute;
  bottom: 0;
  width: 12px;
  height: 26px;
  margin-left: -6px;
  background: var(--now);
  border: 1.5px solid var(--ink-always);
  clip-path: polygon(0 0, 100% 0, 50% 100%);
}

input[type='range'] {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 40px;
  margin: 0;
  opacity: 0;
  cursor: pointer;
}

.ruler:focus-within {
  outline: 3px solid var(--petrol);
  outline-offset: 2px;
}

.time {
  min-width: 84px;
  text-align: right;
}
</style>
