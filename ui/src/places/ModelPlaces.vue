<script setup lang="ts">
/** The frame of a model's places: its name, what is kept, undo and redo, the rail, the deck. */
import { useEventListener, useMediaQuery, useStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, onScopeDispose, shallowRef, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import ClashDialog from '../parts/ClashDialog.vue'
import HandDeck from '../parts/HandDeck.vue'
import MenuButton from '../parts/MenuButton.vue'
import { onDemand } from '../composables/onDemand'
import { useKept } from '../composables/useKept'
import { useLetterKeys } from '../composables/useLetterKeys'
import { useTheme } from '../composables/useTheme'
import NothingHere from './NothingHere.vue'
import { places } from './places'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import { useSeen } from '../stores/seen'
import { useTrying } from '../stores/trying'

const KeysDialog = onDemand(() => import('../parts/KeysDialog.vue'))
const TroubleDialog = onDemand(() => import('../parts/TroubleDialog.vue'))
const props = defineProps<{ id: string }>()
const bench = useBench()
const edits = useEdits()
const route = useRoute()
const keysShown = shallowRef(false)
const troubleShown = shallowRef(route.query.trouble !== undefined)
/** A walk on the bench leads into it with what is known already. */
const seen = useSeen()
watch(
  () => seen.wanted,
  (now) => now && (troubleShown.value = true),
)
const { dark, turn } = useTheme()
const letterKeys = useLetterKeys()
const { state, calm, typedInto } = useKept()
watch(() => props.id, bench.open, { immediate: true })
onScopeDispose(bench.close)
/** Where there is little width or height the rail is one button, which opens the list. */
const compact = useMediaQuery('(max-width: 860px), (max-height: 499px)')
/** Where there is little height the pads of the deck stand beside the place. */
const short = useMediaQuery('(max-height: 499px)')
const railShown = shallowRef(false)
watch(
  () => route.fullPath,
  () => (railShown.value = false),
)
const title = computed(() => places.find((one) => one.name === route.name)?.title ?? '')
watch(
  [() => title.value, () => bench.model?.name],
  ([where, name]) => (document.title = name ? `${where} · ${name}` : 'Axtren'),
)

/** A piece of the shelf is opened there. */
const router = useRouter()
watch(
  () => bench.model?.shelf,
  (kind) => kind && router.replace({ name: 'shelf', params: { piece: props.id } }),
)

const main = useTemplateRef<HTMLElement>('main')
const skip = () => main.value?.focus()

/** Folded or not, kept per place: on the sheet the hands hold the real transmitter. */
const place = computed(() => String(route.name))
/** What is in each place, in a few words, as the server says it. */
const trying = useTrying()
const states = computed(() => {
  const list = new Map(bench.whole?.rail.places.map((one) => [one.key, one.state]))
  if (trying.says) list.set('bench', trying.says)
  return list
})
const kept = useStorage<Record<string, boolean>>('axtren-deck-folded', {})
const usual = computed(() => {
  const one = places.find((one) => one.name === place.value)
  if (short.value) return false
  return compact.value ? one?.phoneDeck : one?.deck
})
/** While a person types on a phone, the keyboard has the room of the deck. */
const typing = shallowRef(false)
const folded = computed({
  get: () => typing.value || (kept.value[place.value] ?? !usual.value),
  set: (now) => (kept.value = { ...kept.value, [place.value]: now }),
})
function entered(event: FocusEvent) {
  const into = event.type === 'focusin' && event.target instanceof HTMLElement
  typing.value = compact.value && into && (event.target as HTMLElement).matches(typedInto)
}

function keys(event: KeyboardEvent) {
  // what is typed into has keys of its own, what is switched or slid has none
  const field = event.target instanceof HTMLElement && event.target.closest(typedInto)
  if (event.key === '?' && !field && letterKeys.value) keysShown.value = true
}
useEventListener('keydown', keys)

const more = computed(() => [
  ...(bench.model?.redo ? [{ key: 'redo', name: 'Redo' }] : []),
  { key: 'trouble', name: 'Something is wrong' },
  { key: 'theme', name: dark.value ? 'Light' : 'Dark' },
  { key: 'keys', name: 'Keys' },
])
function choose(key: string) {
  if (key === 'redo') void edits.redo()
  else if (key === 'theme') turn()
  else if (key === 'keys') keysShown.value = true
  else troubleShown.value = true
}
</script>

<template>
  <NothingHere v-if="bench.missing" :why="bench.missing" :name="bench.model?.name" />
  <div v-else class="frame" :class="{ narrow: compact, short, folded }">
    <a class="skip" href="#place" @click.prevent="skip">Skip to the place</a>
    <header class="head" :class="{ calm }">
      <h1>{{ bench.model?.name ?? '' }}</h1>
      <span class="soft about">{{ bench.model?.about }}</span>
      <button
        v-if="compact"
        type="button"
        class="box railButton"
        :aria-expanded="railShown"
        aria-controls="places"
        @click="railShown = !railShown"
      >
        {{ title }} {{ railShown ? '▴' : '▾' }}
      </button>
      <span class="label state" :class="{ calm }" role="status"
        ><template v-if="calm && compact"
          >saved<span class="unseen">{{ state.slice('saved'.length) }}</span></template
        ><template v-else>{{ state }}</template></span
      >
      <button v-if="!compact" type="button" class="link trouble" @click="troubleShown = true">
        Something is wrong
      </button>
      <Button
        v-tooltip.bottom="bench.model?.undo"
        class="quiet"
        :disabled="!bench.model?.undo"
        :aria-label="compact ? 'Undo' : undefined"
        @click="edits.undo()"
        >{{ compact ? '↶' : 'Undo' }}</Button
      >
      <MenuButton v-if="compact" :items="more" label="More" @choose="choose">…</MenuButton>
      <template v-else>
        <Button
          v-tooltip.bottom="bench.model?.redo"
          class="quiet"
          :disabled="!bench.model?.redo"
          @click="edits.redo"
          >Redo</Button
        >
        <button type="button" class="link" :aria-pressed="dark" @click="turn">
          {{ dark ? 'Light' : 'Dark' }}
        </button>
        <button type="button" class="link" @click="keysShown = true">Keys ?</button>
      </template>
    </header>
    <nav v-show="!compact || railShown" id="places" class="rail" aria-label="Places">
      <RouterLink to="/"><span class="place">Models</span></RouterLink>
      <RouterLink v-for="one in places" :key="one.name" :to="{ name: one.name, params: { id } }">
        <span class="place">{{ one.title }}</span><span class="label">{{ states.get(one.name) }}</span>
      </RouterLink>
    </nav>
    <main id="place" ref="main" tabindex="-1" @focusin="entered" @focusout="entered">
      <RouterView />
    </main>
    <HandDeck v-model:folded="folded" class="deckPlace" :beside="short" />
    <KeysDialog v-model:visible="keysShown" :place="String(route.name)" />
    <ClashDialog />
    <TroubleDialog v-model:visible="troubleShown" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 52px minmax(0, 1fr) auto / 152px minmax(0, 1fr);
  height: 100dvh;
}

.head {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 0 22px 0 20px;
  border-bottom: 1.5px solid var(--ink);
}

h1 {
  font-size: 1.375rem;
}

.about {
  font-size: 1rem;
}

.state {
  margin-left: auto;
}

.rail {
  border-right: 1px solid var(--rule);
  padding-top: 8px;
  overflow-y: auto;
}

.rail a {
  display: grid;
  align-content: center;
  padding: 3px 8px 3px 15px;
  min-height: 42px;
  line-height: 1.15;
  border-left: 5px solid transparent;
  color: var(--ink);
  text-decoration: none;
}

.rail a.router-link-active:not([href='/']) {
  border-left-color: var(--petrol);
}

.rail a.router-link-active:not([href='/']) .place {
  font-weight: 700;
}

.place {
  font-size: 1.0625rem;
}

main {
  position: relative; /* so that what is unseen scrolls with it */
  overflow: auto;
  container: main / size;
  padding: 12px 22px 20px;
}

.deckPlace {
  grid-column: 1 / -1;
}

/* little width or height: one line at the top, the rail behind its button */
.narrow {
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr);
}

.narrow .head:not(.calm) {
  flex-wrap: wrap;
}

.narrow .head {
  gap: 4px 8px;
  min-height: 50px;
  padding: 4px 12px;
}

.narrow h1 {
  flex: 0 1 auto;
  min-width: 3em;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 1.1875rem;
}

.narrow .about {
  display: none;
}

.railButton {
  white-space: nowrap;
  cursor: pointer;
}

.railButton[aria-expanded='true'] {
  background: var(--ink);
  color: var(--sheet);
}

/* one word while all is kept; what is not is said whole, below */
.narrow .state.calm {
  position: relative;
}

.narrow .state:not(.calm) {
  order: 1;
  flex-basis: 100%;
  margin: 0;
}

.narrow .state:not(.calm) + * {
  margin-left: auto;
}

.narrow .head :deep(.p-button) {
  min-width: 44px;
  padding: 6px 10px;
}

.narrow .rail {
  position: absolute;
  z-index: 20;
  inset: 50px 0 auto;
  max-height: calc(100dvh - 50px);
  padding: 0;
  border-right: 0;
  border-bottom: 1.5px solid var(--ink);
  background: var(--ground);
}

.narrow .rail a {
  grid-template-columns: auto minmax(0, 1fr);
  align-items: center;
  gap: 14px;
  min-height: 50px;
  border-bottom: 1px solid var(--rule);
}

.narrow .rail a .label {
  text-align: right;
}

.narrow main {
  padding: 6px 14px 14px;
}

@media (max-width: 360px) {
  .narrow .head {
    gap: 4px;
    padding-inline: 8px;
  }

  .narrow h1 {
    min-width: 2em;
    font-size: 1.0625rem;
  }

  .railButton {
    padding: 0 8px;
  }
}

/* little height: the pads to the left and to the right of the place */
.short {
  grid-template: auto minmax(0, 1fr) auto auto / auto minmax(0, 1fr) auto;
}

.short .head {
  grid-column: 1 / -1;
}

.short main {
  grid-area: 2 / 2 / 4 / 3;
}

.short.folded main {
  padding-bottom: 60px;
}

@media print {
  .head,
  .rail,
  .deckPlace {
    display: none;
  }

  .frame {
    display: block;
    height: auto;
  }

  main {
    overflow: visible;
    container-type: normal;
    padding: 0;
  }
}
</style>
