<script setup lang="ts">
/** The stage beside a place: the picture, what it shows in words, and what happens from every stance. */
import Button from 'primevue/button'
import { computed, shallowRef } from 'vue'

import { useEventListener } from '@vueuse/core'

import type { Drill } from '../api/client'
import { restOf, useBench, type Hand } from '../stores/bench'
import { useStage } from '../stores/stage'
import { usePlayer } from '../stores/player'
import DrillLines from './DrillLines.vue'
import HowTo from './HowTo.vue'
import { sceneOf } from './numbers'
import StagePicture from './StagePicture.vue'
import StageRow from './StageRow.vue'

/** alone: it has the whole place, and its words stand beside the picture. */
defineProps<{ alone?: boolean }>()
const emit = defineEmits<{ fold: [] }>()
const bench = useBench()
const stage = useStage()
const player = usePlayer()
const asked = shallowRef<Drill['kind'] | 'how'>()

const titles: Record<Drill['kind'], string> = {
  switch_on: 'When the transmitter is switched on',
  receivers_on: 'When the model is switched on',
  new_memory: 'When the memory is changed, the model on',
  cut_link: 'When the signal is cut',
  let_go: 'When the hands let go',
  all_rest: 'When all goes to rest',
}

/** Puts what springs back to where it rests; unsprung controls stay. */
function letGo() {
  drill('let_go')
  const set: Record<string, Hand> = {}
  for (const c of bench.view?.controls ?? [])
    if (c.spring && c.spring !== 'none') set[c.id] = c.kind === 'switch' ? c.spring : c.rest
  bench.move(set)
}

/** Puts every control to where it is when the set is switched on. */
function atRest() {
  drill('all_rest')
  const set: Record<string, Hand> = {}
  for (const c of bench.view?.controls ?? []) set[c.id] = restOf(c)
  bench.move(set)
}

function drill(kind: Drill['kind']) {
  asked.value = kind
  stage.play(kind)
}

function shut() {
  asked.value = undefined
  if (/^(drill|way)\//.test(player.playing?.recording ?? '')) player.play('')
}

const words = computed(() => stage.words)
const poses = computed(() => (stage.picture ? sceneOf(stage.picture, bench.values, stage.at).poses : []))

function keys(event: KeyboardEvent) {
  const field =
    event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role=dialog]')
  if (field || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  if (event.key === 'Home') {
    event.preventDefault()
    stage.putBack()
  }
}
useEventListener('keydown', keys)
</script>

<template>
  <section v-if="stage.picture" class="dock" :class="{ alone }" aria-label="Stage">
    <StagePicture
      :picture="stage.picture"
      :values="bench.values"
      :at="stage.at"
      :words="words ? [words.head, ...words.more].join(' ') : 'The model on its ground'"
    />
    <div class="words">
      <div v-if="!asked" class="said">
        <p>
          <strong>{{ words?.head }}</strong>
          {{ words?.more.join(' ') }}
        </p>
      </div>
      <StageRow v-if="!asked" :picture="stage.picture" :poses="poses" :words="words?.row ?? []" />
      <p v-for="fault in stage.picture.faults" :key="fault.path" class="fault">
        {{ fault.message }}; {{ fault.remedy }} <span class="label">({{ fault.path }})</span>
      </p>
      <div v-if="!asked" class="acts">
        <Button v-if="stage.picture.goes" class="quiet" @click="stage.putBack()"
          >Put back<span v-if="alone" class="label">&nbsp;Home</span></Button
        >
        <Button class="quiet" @click="letGo">Let go</Button>
        <Button class="quiet" @click="atRest">All to rest</Button>
        <Button v-if="!alone" class="quiet" aria-label="Fold the stage" @click="emit('fold')">Fold</Button>
        <Button class="quiet" @click="asked = 'how'">How do I get it to …?</Button>
        <Button class="quiet" @click="drill('switch_on')">Switch on, every way</Button>
        <Button class="quiet" @click="drill('cut_link')">Cut the signal</Button>
      </div>
      <div v-if="asked === 'how'">
        <HowTo />
        <Button class="quiet" @click="shut">Done</Button>
      </div>
      <section v-else-if="asked" class="drill" :aria-label="titles[asked]">
        <h3>{{ titles[asked] }}</h3>
        <DrillLines :drill="stage.drill?.kind === asked ? stage.drill : undefined" />
        <Button class="quiet" @click="shut">Done</Button>
      </section>
      <slot />
    </div>
  </section>
</template>

<style scoped>
.dock {
  display: grid;
  gap: 8px;
  align-content: start;
}

.words {
  display: grid;
  gap: 8px;
  align-content: start;
}

.said {
  font-size: 1rem;
  min-height: 44px;
}

/* the words beside the picture, which is as high as the place */
.alone {
  grid-template-columns: minmax(0, 1fr) 352px;
  gap: 22px;
}

.alone :deep(.picture) {
  position: sticky;
  top: 0;
  height: 100cqh;
  min-height: 300px;
}

.alone :deep(.picture > svg) {
  height: 100%;
  aspect-ratio: auto;
}

.alone .said strong {
  display: block;
  font-size: 1.25rem;
}

@container main (max-width: 860px) {
  .alone {
    grid-template-columns: minmax(0, 1fr);
  }

  .alone :deep(.picture) {
    position: relative;
    height: auto;
    min-height: 0;
  }

  .alone :deep(.picture > svg) {
    height: auto;
    aspect-ratio: 1 / 0.72;
  }
}

.acts {
  gap: 6px;
}

.acts :deep(.p-button) {
  padding: 6px 11px;
  font-size: 0.9688rem;
}

.drill {
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
</style>
