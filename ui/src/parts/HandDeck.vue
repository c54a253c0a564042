<script setup lang="ts">
/** The controls of this person's own transmitter, as they lie under the hand. */
import Button from 'primevue/button'
import { computed, shallowRef } from 'vue'

import type { Control } from '../api/client'
import { useGamepad } from '../composables/useGamepad'
import { useDeckKeys } from '../composables/useDeckKeys'
import { useLetterKeys } from '../composables/useLetterKeys'
import { useBench } from '../stores/bench'
import { usePlayer } from '../stores/player'
import GamepadDialog from './GamepadDialog.vue'
import DeckLever from './DeckLever.vue'
import DeckSwitch from './DeckSwitch.vue'
import MovesDialog from './MovesDialog.vue'
import PlayBar from './PlayBar.vue'
import StickPad from './StickPad.vue'

const folded = defineModel<boolean>('folded', { required: true })
const bench = useBench()
const player = usePlayer()
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

const sticks = computed(() => {
  const names = [...new Set(controls.value.flatMap((c) => (c.stick ? [c.stick] : [])))]
  return names.map((name) => ({
    name: `${name.charAt(0).toUpperCase()}${name.slice(1)} stick`,
    across: controls.value.find((c) => c.stick === name && c.along === 'x'),
    along: controls.value.find((c) => c.stick === name && c.along !== 'x'),
  }))
})
const switches = computed(() => controls.value.filter((c) => c.kind === 'switch'))
const levers = computed(() => controls.value.filter((c) => c.kind === 'axis' && !c.stick))

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
/** A drill of the stage plays as a recording does: drill/switch_on/3. */
const drills: Record<string, string> = { switch_on: 'Switching on', cut_link: 'A cut signal' }
const playName = computed(() => {
  const playing = player.playing?.recording ?? ''
  return (
    drills[playing.split('/')[1] ?? ''] ??
    player.recordings.find((r) => r.id === playing)?.name ??
    'A recording'
  )
})

const hints = computed(() => map().hints)
function hint(...of: (Control | undefined)[]): string {
  if (!inHand.value) return ''
  return of.map((c) => (c && hints.value.get(c.id)) || '').join(' ')
}
</script>

<template>
  <div class="hand">
    <PlayBar v-if="player.playing" :playing="player.playing" :name="playName" />
    <section class="deck" :class="{ inHand, folded }" aria-label="Hand deck">
      <template v-if="!folded">
        <div class="sticks">
          <StickPad
            v-for="stick in sticks"
            :key="stick.name"
            v-bind="stick"
            :hands="hands"
            :moving="bench.moving"
            :hint="hint(stick.along, stick.across)"
            @move="bench.move"
          />
        </div>
        <div class="rest">
          <div class="others">
            <DeckSwitch
              v-for="control in switches"
              :key="control.id"
              :control="control"
              :at="String(hands[control.id] ?? '')"
              :hint="hint(control)"
              @move="bench.move"
            />
            <DeckLever
              v-for="control in levers"
              :key="control.id"
              :control="control"
              :at="Number(hands[control.id] ?? 0)"
              :hint="hint(control)"
              @move="bench.move"
            />
          </div>
          <div class="power" role="group" aria-label="Power and signal">
            <DeckSwitch
              v-for="control in power"
              :key="control.id"
              :control="control"
              :at="String(hands[control.id] ?? '')"
              hint=""
              @move="bench.move"
            />
          </div>
        </div>
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
            >Take in hand<template v-if="letterKeys">: D</template></Button
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
  padding: 10px 20px;
  background: var(--deck);
  border-top: 1.5px solid var(--ink);
}

.deck.inHand {
  border-top: 5px solid var(--petrol);
  padding-top: 6.5px;
}

.sticks {
  display: flex;
  gap: 20px;
}

.rest {
  display: contents;
}

.others {
  display: flex;
  flex-flow: column wrap;
  align-content: flex-start;
  gap: 6px 18px;
  height: 152px;
  flex: 1 1 auto;
  min-width: 0;
  overflow-x: auto;
}

.power {
  display: flex;
  flex-flow: column wrap;
  gap: 6px 18px;
  height: 152px;
  flex: none;
  margin-left: auto;
  padding-left: 20px;
  border-left: 1px solid var(--rule);
}

.aside {
  display: flex;
  flex-direction: column;
  justify-content: space-between;
  align-items: flex-start;
  gap: 6px;
  width: 172px;
  max-height: 152px;
  flex: none;
}

.aside .acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.aside .acts :deep(.p-button) {
  padding: 5px 10px;
  min-height: 40px;
}

.folded .aside {
  margin-left: auto;
  flex-direction: row;
  align-items: center;
  width: auto;
}

@media (max-width: 760px), (pointer: coarse) {
  .forKeys {
    display: none;
  }
}

@media (max-width: 760px) {
  .deck {
    flex-direction: column;
    gap: 8px;
    padding: 8px 14px;
  }

  .sticks {
    justify-content: space-around;
  }

  .rest {
    display: flex;
    gap: 18px;
    overflow-x: auto;
    padding-bottom: 6px;
  }

  .others,
  .power {
    flex-flow: row nowrap;
    flex: none;
    height: auto;
    margin: 0;
    white-space: nowrap;
  }

  .aside,
  .folded .aside {
    flex-direction: row;
    width: 100%;
    margin: 0;
    align-items: center;
    justify-content: space-between;
  }
}
</style>
