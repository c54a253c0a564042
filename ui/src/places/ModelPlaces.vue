<script setup lang="ts">
/** The frame of a model's places: its name, what is kept, undo and redo, the rail, the deck. */
import { useEventListener, useStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, onScopeDispose, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'

import ClashDialog from '../parts/ClashDialog.vue'
import HandDeck from '../parts/HandDeck.vue'
import KeysDialog from '../parts/KeysDialog.vue'
import TroubleDialog from '../parts/TroubleDialog.vue'
import { useLeaveGuard } from '../composables/useLeaveGuard'
import { useLetterKeys } from '../composables/useLetterKeys'
import { useTheme } from '../composables/useTheme'
import NothingHere from './NothingHere.vue'
import { places } from './places'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const props = defineProps<{ id: string }>()
const bench = useBench()
const edits = useEdits()
const route = useRoute()
const keysShown = shallowRef(false)
const troubleShown = shallowRef(route.query.trouble !== undefined)
const { dark, turn } = useTheme()
const letterKeys = useLetterKeys()
useLeaveGuard(() => edits.saving > 0)

watch(() => props.id, bench.open, { immediate: true })
onScopeDispose(bench.close)
/** On a phone the rail is one button, which opens the list. */
const railShown = shallowRef(false)
watch(
  () => route.fullPath,
  () => (railShown.value = false),
)
const title = computed(() => places.find((one) => one.name === route.name)?.title ?? '')
watch(
  () => [title.value, bench.model?.name],
  ([where, name]) => (document.title = name ? `${where} · ${name}` : 'Axtren'),
)

/** Folded or not, kept per place: on the sheet the hands hold the real transmitter. */
const place = computed(() => String(route.name))
/** What is in each place, in a few words, as the server says it. */
const states = computed(() => new Map(bench.whole?.rail.places.map((one) => [one.key, one.state])))
const kept = useStorage<Record<string, boolean>>('axtren-deck-folded', {})
const folded = computed({
  get: () => kept.value[place.value] ?? !places.find((one) => one.name === place.value)?.deck,
  set: (now) => (kept.value = { ...kept.value, [place.value]: now }),
})

const state = computed(() => {
  if (edits.saving && (bench.silent || edits.notKept))
    return 'not saved yet: the server does not answer; it is sent when it does'
  if (bench.silent) return 'the server does not answer, trying again'
  if (!bench.model) return 'opening the bench'
  if (edits.saving) return 'saving'
  if (edits.notKept?.status === 422) return 'not saved: what to do stands where you changed it'
  if (edits.notKept) return `not saved: ${edits.notKept.title}`
  if (edits.trying) return 'trying, not saved yet'
  if (!bench.connected) return 'not connected, trying again'
  return `saved, revision ${bench.model.revision}`
})

const typedInto = 'input:not([type=checkbox], [type=radio], [type=range]), textarea'

function keys(event: KeyboardEvent) {
  // what is typed into has an undo of its own, what is switched or slid has none
  const field = event.target instanceof HTMLElement && event.target.closest(typedInto)
  if (event.key === '?' && !field && letterKeys.value) keysShown.value = true
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
  // a field that shows what is kept has nothing of its own to take back
  if (field && !field.matches('[data-clean]')) return
  event.preventDefault()
  if (event.shiftKey ? bench.model?.redo : bench.model?.undo)
    void (event.shiftKey ? edits.redo() : edits.undo())
}
useEventListener('keydown', keys)
</script>

<template>
  <NothingHere v-if="bench.missing" :why="bench.missing" :name="bench.model?.name" />
  <div v-else class="frame">
    <header class="head">
      <h1>{{ bench.model?.name ?? '' }}</h1>
      <span class="soft about">{{ bench.model?.about }}</span>
      <span class="label state" :class="{ calm: state.startsWith('saved') }" role="status">{{ state }}</span>
      <button type="button" class="link trouble" @click="troubleShown = true">Something is wrong</button>
      <Button
        v-tooltip.bottom="bench.model?.undo"
        class="quiet"
        :disabled="!bench.model?.undo"
        @click="edits.undo"
        >Undo</Button
      >
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
    </header>
    <button
      type="button"
      class="railButton"
      :aria-expanded="railShown"
      aria-controls="places"
      @click="railShown = !railShown"
    >
      {{ title }}
    </button>
    <nav id="places" class="rail" :class="{ shown: railShown }" aria-label="Places">
      <RouterLink to="/"><span class="place">Models</span></RouterLink>
      <RouterLink v-for="one in places" :key="one.name" :to="{ name: one.name, params: { id } }">
        <span class="place">{{ one.title }}</span><span class="label">{{ states.get(one.name) }}</span>
      </RouterLink>
    </nav>
    <main>
      <RouterView />
    </main>
    <HandDeck v-model:folded="folded" class="deckPlace" />
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
  font-size: 22px;
}

.about {
  font-size: 16px;
}

.state {
  margin-left: auto;
}

.railButton {
  display: none;
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
  font-size: 17px;
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

@media (max-width: 760px) {
  .frame {
    grid-template: auto auto minmax(0, 1fr) auto / minmax(0, 1fr);
  }

  .head {
    flex-wrap: wrap;
    gap: 4px 9px;
    padding: 6px 14px;
  }

  h1 {
    flex: 1;
    font-size: 20px;
  }

  /* one line while all is kept; what is not is said below it */
  .state {
    order: 1;
    flex-basis: 100%;
    margin: 0;
  }

  .state.calm {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }

  .trouble {
    font-size: 15.5px;
  }

  .head :deep(.p-button) {
    padding: 6px 10px;
    font-size: 15.5px;
  }

  .about,
  .link:not(.trouble) {
    display: none;
  }

  .railButton {
    display: block;
    min-height: 44px;
    padding: 0 14px;
    border: 0;
    border-bottom: 1px solid var(--rule);
    background: none;
    color: var(--ink);
    font: inherit;
    font-weight: 700;
    text-align: left;
    cursor: pointer;
  }

  .railButton::after {
    content: ' ▾';
  }

  .rail {
    display: none;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }

  .rail.shown {
    display: block;
    position: absolute;
    z-index: 20;
    inset: 96px 0 auto;
    max-height: calc(100dvh - 96px);
    background: var(--ground);
    border-bottom: 1.5px solid var(--ink);
  }

  main {
    padding: 6px 14px 14px;
  }
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
