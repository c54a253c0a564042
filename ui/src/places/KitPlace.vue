<script setup lang="ts">
/** Kit: what there is. The transmitter with its controls, the receivers with what is plugged into them. */
import Button from 'primevue/button'
import { computed, shallowRef } from 'vue'

import type { Receiver, ShelfPiece } from '../api/client'
import ControlFinder from '../parts/ControlFinder.vue'
import FindingList from '../parts/FindingList.vue'
import FitList from '../parts/FitList.vue'
import LiveValue from '../parts/LiveValue.vue'
import MenuButton from '../parts/MenuButton.vue'
import PartForm from '../parts/PartForm.vue'
import ShelfList from '../parts/ShelfList.vue'
import { onDemand } from '../composables/onDemand'
import { useOnce } from '../composables/useOnce'
import { useParts } from '../composables/useParts'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const ShelfDialog = onDemand(() => import('../parts/ShelfDialog.vue'))
defineProps<{ id: string }>()
const bench = useBench()
const { opened, problem, of, kinds, toggle, add } = useParts()
const { once } = useOnce()
const controls = computed(() => of('controls'))

/** Whether anything is known of what the devices of a receiver draw. */
const drawn = (rx: Receiver) => rx.pins.some((pin) => pin.devices.some((d) => d.draws))

/** The transmitter may be one of the shelf. */
const ofShelf = 'shelf'
const likes = computed(() => [{ key: ofShelf, name: 'one of your shelf…' }, ...(bench.view?.kit.like ?? [])])

/** Takes over what a kind of transmitter can, and its controls where there are none. */
async function like(kind: string) {
  if (kind === ofShelf) {
    taking.value = 'transmitter'
    return
  }
  const outcome = await useEdits().act({ act: 'like', kind })
  problem.value = outcome.kept ? '' : (outcome.problem.errors?.[0]?.remedy ?? outcome.problem.title)
}

/** What is being chosen on the shelf: the transmitter, or something to be added. */
const taking = shallowRef<'transmitter' | 'more'>()
const takes = computed({
  get: () => taking.value !== undefined,
  set: (now) => now || (taking.value = undefined),
})
async function take(piece: ShelfPiece) {
  taking.value = undefined
  const list = { receiver: 'receivers', device: 'devices' }[piece.kind] ?? piece.kind
  const outcome = await useEdits().shelve({ act: 'from', part: list, piece: piece.id })
  problem.value = outcome.kept ? '' : (outcome.problem.errors?.[0]?.remedy ?? outcome.problem.title)
  if (outcome.kept) opened.value = outcome.part
}

const facts = [
  ['transmitter', 'What it can do'],
  ['craft', 'Model and memory'],
] as const
</script>

<template>
  <h2 class="unseen">Kit</h2>
  <div v-if="bench.view" class="kit split">
    <div>
      <header>
        <h3>{{ bench.view.set || 'The transmitter' }}</h3>
        <MenuButton :items="likes" label="It is like" @choose="like">It is like…</MenuButton>
        <Button
          v-for="[part, title] in facts"
          :key="part"
          class="quiet"
          :data-behind="part"
          :aria-expanded="opened === part"
          @click="toggle(part)"
          >{{ title }}</Button
        >
      </header>
      <p v-if="problem" class="fault" role="alert">Nothing was changed: {{ problem }}.</p>
      <template v-for="[part] in facts" :key="part">
        <PartForm v-if="opened === part" :part="part" />
      </template>
      <ControlFinder v-model:opened="opened" class="controls" :parts="controls">
        <MenuButton :items="kinds('controls')" label="Add a control" @choose="(kind) => add('controls', kind)"
          >Add a control</MenuButton
        >
      </ControlFinder>

      <template v-for="rx in bench.view.receivers" :key="rx.part">
        <header>
          <h3>{{ rx.label }}</h3>
          <span class="label known">{{ rx.note }}</span>
          <Button
            class="quiet"
            :data-behind="rx.part"
            :aria-expanded="opened === rx.part"
            @click="toggle(rx.part)"
            >Pins and abilities</Button
          >
        </header>
        <PartForm
          v-if="opened === rx.part"
          :part="rx.part"
          @gone="opened = undefined"
          @renamed="opened = $event"
        />
        <table class="pins">
          <thead>
            <tr class="label">
              <th scope="col">Pin</th>
              <th scope="col">Function</th>
              <th scope="col">Plugged in</th>
              <th scope="col">on a lost signal</th>
              <th v-if="drawn(rx)" scope="col">draws</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="pin in rx.pins" :key="pin.pin">
              <tr>
                <td class="fig">{{ pin.pin }}</td>
                <td>
                  <RouterLink
                    v-if="pin.line"
                    :to="{ name: 'functions', params: { id }, query: { line: pin.line } }"
                    >{{ pin.function }}</RouterLink
                  >
                  <span v-else class="soft">nothing is sent on channel {{ pin.channel }}</span>
                </td>
                <td>
                  <span v-for="device in pin.devices" :key="device.part" class="device">
                    <button
                      type="button"
                      class="link"
                      :data-behind="device.part"
                      :aria-expanded="opened === device.part"
                      @click="toggle(device.part)"
                    >
                      {{ device.label }}
                    </button>
                    <span class="label">{{ device.word }}</span>
                    <LiveValue class="label" :value="device.value" :unit="device.unit" />
                    <span v-if="device.note" class="label rated">{{ device.note }}</span>
                  </span>
                  <button
                    v-if="pin.devices.length === 0"
                    type="button"
                    class="link"
                    @click="once($event, () => add('devices', 'servo', pin.at))"
                  >
                    plug something in
                  </button>
                </td>
                <td class="soft">{{ pin.loss }}</td>
                <td v-if="drawn(rx)" class="soft draws">{{ pin.devices.map((d) => d.draws).join(' ') }}</td>
              </tr>
              <tr v-for="device in pin.devices.filter((d) => d.part === opened)" :key="device.part">
                <td colspan="5">
                  <PartForm :part="device.part" @gone="opened = undefined" @renamed="opened = $event" />
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </template>
      <div class="acts">
        <MenuButton
          :items="kinds('receivers')"
          label="Add a receiver"
          @choose="(kind) => add('receivers', kind)"
          >Add a receiver</MenuButton
        >
        <MenuButton :items="kinds('devices')" label="Add a device" @choose="(kind) => add('devices', kind)"
          >Add a device</MenuButton
        >
        <Button class="quiet" @click="taking = 'more'">From your shelf…</Button>
      </div>
    </div>
    <aside
      aria-label="What was found here, what this transmitter cannot do, your shelf, and what is known of it"
    >
      <!-- what is there at once stands above what is worked out, so that it does not move -->
      <FindingList place="kit" :but="['cannot']" title="What was found" />
      <FitList :id @describe="opened = 'transmitter'" />
      <ShelfList :id />
      <h3 class="finds">What is known of it</h3>
      <p v-if="bench.view.kit.says" class="soft says">{{ bench.view.kit.says }}</p>
      <table class="facts">
        <caption class="unseen">
          What is known of it
        </caption>
        <tbody>
          <tr v-for="fact in bench.view.kit.facts" :key="fact.what">
            <th scope="row">{{ fact.what }}</th>
            <td :colspan="fact.note ? 1 : 2">{{ fact.value }}</td>
            <td v-if="fact.note" class="soft">{{ fact.note }}</td>
          </tr>
        </tbody>
      </table>
    </aside>
    <ShelfDialog
      v-model:visible="takes"
      :header="
        taking === 'transmitter' ? 'Which transmitter of your shelf?' : 'What is added from your shelf?'
      "
      :kind="taking === 'transmitter' ? taking : undefined"
      @choose="take"
    />
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.kit {
  --beside: 360px;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  margin-top: 8px;
}

header:first-child {
  margin-top: 0;
}

header :deep(button) {
  flex: 0 0 auto;
}

header h3 {
  margin-right: auto;
}

header .known {
  flex: 1 1 0;
  min-width: 180px;
  text-align: right;
}

h3 {
  font-size: 1.1875rem;
}

.pins td.soft {
  font-size: 0.9375rem;
}

.rated {
  flex-basis: 100%;
  margin-top: -6px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th {
  text-align: left;
  font-weight: 400;
}

thead th {
  border-bottom: 1.5px solid var(--ink);
}

.says {
  margin: 2px 0 6px;
}

.facts {
  margin-top: 8px;
}

.facts th {
  white-space: nowrap;
}

.facts :is(th, td) {
  padding: 3px 14px 3px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: baseline;
}

.facts td.soft {
  width: 60%;
}

td {
  padding: 2px 10px 2px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: middle;
}

.device {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 8px;
  margin-right: 12px;
}

/* a pin becomes a small stack where there is no width for a table */
@container main (max-width: 560px) {
  .pins thead {
    display: none;
  }

  .pins,
  .pins tbody {
    display: block;
  }

  .pins tr {
    display: grid;
    grid-template-columns: 32px minmax(0, 1fr);
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
  }

  .pins td {
    grid-column: 2;
    border-bottom: 0;
  }

  .pins td:first-child {
    grid-area: 1 / 1 / span 4 / 2;
  }

  .pins td[colspan] {
    grid-column: 1 / -1;
  }
}
</style>
