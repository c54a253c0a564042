<script setup lang="ts">
/** The controls of this person's own transmitter, as they lie under the hand. */
import Button from 'primevue/button'
import { useMediaQuery } from '@vueuse/core'
import { computed, shallowRef, useTemplateRef } from 'vue'

import type { Control } from '../api/client'
import { onDemand } from '../composables/onDemand'
import { useGamepad } from '../composables/useGamepad'
import { useDeckKeys } from '../composables/useDeckKeys'
import { useLetterKeys } from '../composables/useLetterKeys'
import { useTight } from '../composables/useTight'
import { useBench } from '../stores/bench'
import { usePlayer } from '../stores/player'
import DeckControl from './DeckControl.vue'
import DeckPower from './DeckPower.vue'
import { others, pads } from './deckPlaces'
import PlayBar from './PlayBar.vue'
import StickPad from './StickPad.vue'

/** beside: its pads stand to the left and to the right of the place, where there is little height. */
const props = defineProps<{ beside?: boolean }>()
const folded = defineModel<boolean>('folded', { required: true })
const bench = useBench()
const player = usePlayer()
const GamepadDialog = onDemand(() => import('./GamepadDialog.vue'))
const MovesDialog = onDemand(() => import('./MovesDialog.vue'))
const movesShown = shallowRef(false)
const controls = computed<Control[]>(() => bench.view?.controls ?? [])

const { inHand, letGoBy, takeInHand, map } = useDeckKeys(
  () => controls.value,
  (id) => bench.hands[id],
  bench.move,
)

const { pad, mapping, learning } = useGamepad(
  () => bench.view?.set ?? '',
  () => controls.value,
  bench.move,
)
const padShown = shallowRef(false)
const letterKeys = useLetterKeys()

const padsShown = computed(() => pads(controls.value))
const small = computed(() => others(controls.value))

/** On a phone the controls between the sticks are turned over two by two, the power last. */
const narrow = useMediaQuery('(max-width: 760px)')
const phone = computed(() => narrow.value || props.beside)
const tray = useTemplateRef('tray')
/** From here on each control shows only where it stands; at the tightest they scroll up and down. */
const compact = 3
const tightest = 4
const tight = useTight(
  tray,
  tightest,
  () => [controls.value, phone.value, inHand.value, folded.value],
  turned,
)
const page = shallowRef(0)
const pages = shallowRef(1)
function turned() {
  const box = tray.value
  if (!box) return
  pages.value = Math.max(Math.round(box.scrollWidth / box.clientWidth), 1)
  page.value = Math.round(box.scrollLeft / box.clientWidth)
}
function turnOver() {
  const box = tray.value
  const to = page.value + 1 < pages.value ? page.value + 1 : 0
  box?.scrollTo({ left: to * box.clientWidth })
}

const power = computed<Control[]>(() => bench.view?.power ?? [])

/** Why nothing moves, where that is so. */
const silent = computed(() => {
  const view = bench.view
  if (!view || bench.hands.transmitter === 'off') return view ? 'The transmitter is off.' : ''
  if (bench.waits.length > 0)
    return `The transmitter waits for: ${bench.waits.map((i) => view.start_check[i]).join(', ')}.`
  return bench.values[view.up] === 0 ? 'The signal is cut.' : ''
})

/** The hands that are shown: the recorded ones while they play. */
const hands = computed<Record<string, number | string>>(() => {
  if (!player.playing) return bench.hands
  return Object.fromEntries(
    [...controls.value, ...power.value].map((c) => {
      const v = bench.values[c.value] ?? 0
      return [c.id, c.kind === 'switch' ? (c.positions?.[Math.round(v)] ?? '') : v]
    }),
  )
})
/**
 * A drill of the stage plays as a recording does: drill/switch_on/3; what breaks a claim: claim/pump; what
 * gets it somewhere: way/3; a step on the bench: walk/…/3.02; what a lost signal does, and its return:
 * lost/rudder, back/rudder, or cut/lost/12.5.
 */
const drills: Record<string, string> = {
  switch_on: 'Switching on',
  receivers_on: 'Switching the model on',
  new_memory: 'Another memory',
  cut_link: 'A cut signal',
}
const plays: Record<string, string> = {
  claim: 'How it is broken',
  cut: 'The signal is cut',
  lost: 'The signal is lost',
  back: 'The signal comes back',
  walk: 'As it should be',
  way: 'How to get there',
}
const playName = computed(() => {
  const playing = player.playing?.recording ?? ''
  const [kind = '', which = ''] = playing.split('/')
  return (
    plays[kind] ?? drills[which] ?? player.recordings.find((r) => r.id === playing)?.name ?? 'A recording'
  )
})

/** A step on the bench is shown by its own place. */
const playsStep = computed(() => player.playing?.recording.startsWith('walk/') && !player.playing.why)

const hints = computed(() => map().hints)
function hint(...of: (Control | undefined)[]): string {
  if (!inHand.value) return ''
  return of.map((c) => (c && hints.value.get(c.id)) || '').join(' ')
}
</script>

<template>
  <div class="hand" :class="{ beside }">
    <PlayBar v-if="player.playing && !playsStep" :playing="player.playing" :name="playName" />
    <section
      class="deck"
      :class="{ inHand, folded, phone, compact: !phone && tight >= compact }"
      aria-label="Sticks and switches"
    >
      <template v-if="!folded">
        <template v-for="one in padsShown" :key="one.key">
          <DeckControl
            v-if="one.control"
            class="pad"
            :class="one.side"
            :control="one.control"
            :at="hands[one.control.id] ?? 0"
            :hint="hint(one.control)"
            :active="bench.moving === one.control.id"
            :small="false"
            @move="bench.move"
          />
          <StickPad
            v-else
            class="pad"
            :class="one.side"
            :name="one.name"
            :across="one.across"
            :along="one.along"
            :hands="hands"
            :moving="bench.moving"
            :hint="hint(one.along, one.across)"
            @move="bench.move"
          />
        </template>
        <div ref="tray" class="tray" :class="`tight${tight}`" @scroll.passive="turned">
          <div v-for="one in small" :key="one.side" class="side">
            <DeckControl
              v-for="control in one.controls"
              :key="control.id"
              class="control"
              :class="{ tall: control.kind === 'axis' && control.along === 'y' }"
              :control="control"
              :at="hands[control.id] ?? control.rest"
              :hint="hint(control)"
              :active="bench.moving === control.id"
              :small="phone || tight >= compact"
              @move="bench.move"
            />
          </div>
          <DeckPower v-if="phone && bench.view" :power="power" :hands="hands" @move="bench.move" />
        </div>
        <DeckPower v-if="!phone" :power="power" :hands="hands" @move="bench.move" />
      </template>
      <div class="aside">
        <p class="label" role="status">
          <template v-if="!bench.connected"
            >Not connected; it comes back by itself, and the levers stay where they are.</template
          >
          <strong v-else-if="silent">{{ silent }}</strong>
          <strong v-else-if="bench.silent"
            >The server does not answer. The levers move again when it does.</strong
          >
          <template v-else-if="inHand">The keys move the sticks. <strong>Escape</strong> lets go.</template>
          <span v-else-if="letGoBy" class="forKeys"
            >The sticks were let go of: a {{ letGoBy }} has the keys.</span
          >
        </p>
        <div class="acts">
          <Button v-if="!inHand && !folded" class="quiet forKeys" data-take-in-hand @click="takeInHand"
            >Move by keys<template v-if="letterKeys">: D</template></Button
          >
          <Button v-if="phone && !folded && pages > 1" class="quiet" @click="turnOver"
            >{{ page + 1 }} of {{ pages }} ›</Button
          >
          <Button v-if="!folded" class="quiet" data-recordings @click="movesShown = true">Recordings</Button>
          <Button v-if="pad && !folded" class="quiet" @click="padShown = true">Gamepad</Button>
          <Button class="quiet" :aria-expanded="!folded" @click="folded = !folded">{{
            folded ? 'Unfold' : 'Fold'
          }}</Button>
        </div>
      </div>
      <GamepadDialog
        v-if="pad"
        v-model:visible="padShown"
        v-model:learning="learning"
        :controls="controls"
        :mapping="mapping"
        :pad="pad"
      />
      <MovesDialog v-model:visible="movesShown" />
    </section>
  </div>
</template>

<style scoped>
.hand {
  min-width: 0;
}

.deck {
  display: flex;
  gap: 20px;
  padding: 8px 18px;
  background: var(--deck);
  border-top: 1.5px solid var(--ink);
}

.deck.inHand {
  border-top: 5px solid var(--petrol);
  padding-top: 4.5px;
}

.pad {
  flex: none;
}

.pad.right {
  order: 2;
}

.pad :deep(svg) {
  display: block;
  touch-action: none;
  cursor: grab;
}

.pad:has(input:focus-visible) :deep(svg) {
  outline: 3px solid var(--petrol);
  outline-offset: 2px;
}

.deck > .power {
  order: 3;
  padding-left: 16px;
  border-left: 1px solid var(--rule);
}

.tray {
  position: relative; /* what is unseen in it is in it */
  order: 1;
  display: flex;
  justify-content: space-between;
  gap: 6px 22px;
  flex: 1 1 0;
  min-width: 0;
  overflow-x: auto;
}

.side {
  display: grid;
  grid-auto-flow: column dense;
  grid-template-rows: repeat(2, 65px);
  grid-auto-columns: max-content;
  align-content: start;
  gap: 6px 22px;
}

.tall {
  grid-row: span 2;
}

.control :deep(.name) {
  display: block;
  margin-bottom: 1px;
  font-size: var(--label);
  line-height: 20px;
  color: var(--soft);
  white-space: nowrap;
}

.pad :deep(.label),
.pad :deep(.name) {
  display: block;
  margin-bottom: 2px;
  font-size: var(--label);
  line-height: 20px;
  color: var(--soft);
}

.deck :deep(kbd) {
  font: inherit;
  font-weight: 700;
  color: var(--ink);
}

/* packed: closer, then with cut names, then each where it stands */
.tight1,
.tight1 .side,
.tight2,
.tight2 .side {
  column-gap: 12px;
}

.tight2 .control :deep(.name) {
  max-width: 104px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.tight2 .control :deep([data-switch]) {
  padding: 0 4px;
  font-size: var(--label);
}

.compact {
  gap: 12px;
  padding-inline: 12px;
}

.compact .tray {
  display: grid;
  grid-auto-flow: column dense;
  grid-template-rows: repeat(2, 69px);
  grid-auto-columns: minmax(min-content, max-content);
  gap: 2px 8px;
}

.compact .side {
  display: contents;
}

.compact .control {
  max-width: 72px;
}

.compact .control :deep(.name),
.phone .control :deep(.name) {
  display: -webkit-box;
  max-height: 26px;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  font-size: 0.8125rem;
  line-height: 13px;
  white-space: normal;
  overflow: hidden;
  overflow-wrap: anywhere;
}

.compact .control :deep(.small) {
  max-width: 72px;
}

.compact .control :deep(input) {
  max-width: 72px;
  height: 40px;
}

/* what springs both ways from where it rests */
.compact .control:has(.small button + button) {
  max-width: 98px;
}

.compact .control :deep(.small:has(button + button)) {
  max-width: 98px;
}

.compact .tall :deep(input) {
  height: 108px;
}

.compact .tall {
  max-width: 52px;
}

.compact .control :deep(.small [data-switch]) {
  min-height: 37px;
  line-height: 37px;
}

.compact :deep(.power .name) {
  max-width: 80px;
}

.compact .tray.tight4 {
  grid-auto-flow: row dense;
  grid-template-columns: repeat(auto-fill, 72px);
  overflow: hidden auto;
  max-height: 141px;
}

.aside {
  order: 4;
  display: flex;
  flex-direction: column;
  justify-content: space-between;
  align-items: flex-start;
  gap: 6px;
  max-width: 136px;
  max-height: 141px;
  flex: none;
}

.aside .label {
  max-height: 60px;
  overflow: auto;
  line-height: 1.2;
}

.aside .acts {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 4px;
}

.aside .acts :deep(.p-button) {
  padding: 5px 9px;
  font-size: var(--label);
  white-space: nowrap;
  min-height: 40px;
}

.folded .aside {
  margin-left: auto;
  flex-direction: row;
  align-items: center;
  width: auto;
}

.deck.phone {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 8px 10px;
  padding: 8px 14px;
}

.deck.phone.folded {
  display: flex;
}

.phone .tray {
  display: grid;
  grid-auto-flow: column dense;
  grid-template-rows: repeat(2, 71px);
  grid-auto-columns: 100%;
  gap: 6px 0;
  align-content: start;
  justify-content: start;
  overflow-x: auto;
  scroll-snap-type: x mandatory;
}

.phone .side {
  display: contents;
}

.phone .tray :deep(.switch),
.phone .control {
  scroll-snap-align: start;
}

.phone .control {
  max-width: 100%;
  overflow: hidden;
}

.phone .tray > .power {
  display: contents;
}

.phone .tray > .power :deep(.switch) {
  display: block;
}

.phone .aside,
.phone.folded .aside {
  grid-column: 1 / -1;
  flex-direction: row;
  width: 100%;
  max-width: none;
  margin: 0;
  align-items: center;
  justify-content: space-between;
}

.phone .aside .acts {
  flex-direction: row;
  flex-wrap: wrap;
}

@media (max-width: 360px) {
  .phone .pad :deep(svg) {
    width: 96px;
    height: 96px;
  }
}

/* its parts are laid out by the frame */
.beside,
.beside .deck.phone,
.beside .deck.phone.folded {
  display: contents;
}

.beside .pad,
.beside .tray,
.beside .aside {
  background: var(--deck);
  padding: 6px 10px;
}

.beside .pad {
  grid-area: 2 / 1;
  align-self: stretch;
  display: grid;
  align-content: end;
}

.beside .pad.right {
  grid-area: 2 / 3;
}

.beside .pad :deep(svg) {
  margin-inline: auto;
}

.beside .tray {
  grid-area: 3 / 3;
  width: 138px;
  grid-template-rows: repeat(2, 71px);
  grid-auto-columns: 118px;
  gap: 2px 20px;
}

.beside .aside {
  grid-area: 3 / 1;
  flex-direction: column;
  align-items: flex-start;
  width: 138px;
  max-height: none;
}

.beside .aside .acts {
  flex-wrap: wrap;
}

.beside .forKeys {
  display: none;
}

.beside .folded .aside {
  position: fixed;
  right: 8px;
  bottom: 8px;
  width: auto;
  padding: 0;
  background: none;
}

.beside :deep(.player) {
  grid-column: 1 / -1;
  grid-row: 4;
}
</style>
