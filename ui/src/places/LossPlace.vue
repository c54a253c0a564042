<script setup lang="ts">
/**
 * Loss and start: where each part stands when nobody is in command, over every moment; what can hurt; what
 * the transmitter waits for.
 */
import Button from 'primevue/button'
import { computed, nextTick, onBeforeUnmount, shallowRef, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'

import { api, type Drill, type Field } from '../api/client'
import { useParts } from '../composables/useParts'
import { useRevised } from '../composables/useRevised'
import DrawRun from '../loss/DrawRun.vue'
import GoingUnder from '../loss/GoingUnder.vue'
import HazardCards from '../loss/HazardCards.vue'
import LossRow from '../loss/LossRow.vue'
import StartLeast from '../loss/StartLeast.vue'
import FieldChoice from '../parts/FieldChoice.vue'
import FieldNumber from '../parts/FieldNumber.vue'
import FindingList from '../parts/FindingList.vue'
import PartForm from '../parts/PartForm.vue'
import TravelRule from '../parts/TravelRule.vue'
import DrillLines from '../stage/DrillLines.vue'
import StageDock from '../stage/StageDock.vue'
import { useBench } from '../stores/bench'
import { useLosses } from '../stores/losses'
import { usePlayer } from '../stores/player'
import { useStage } from '../stores/stage'

const props = defineProps<{ id: string }>()
const bench = useBench()
const losses = useLosses()
const player = usePlayer()
const stage = useStage()
const route = useRoute()
const table = useTemplateRef<HTMLElement>('table')
const { opened, toggle } = useParts()
const { answer, problem } = useRevised(
  () => props.id,
  (id, signal) => api.GET('/api/models/{id}/loss', { params: { path: { id } }, signal }),
)

const tabs = { lost: 'Signal lost', back: 'Signal back', on: 'Switched on' }
type Tab = keyof typeof tabs
const tab = shallowRef<Tab>('lost')

/** The runs over which the signal can be cut: what is kept by name, what was done here, nobody's hands. */
const runs = computed(() => [
  ...player.recordings.map((one) => ({ value: one.id, label: `“${one.name}”` })),
  { value: 'bench', label: 'what was done here' },
  { value: '', label: 'two seconds with hands off' },
])
watch(
  () => bench.model?.id,
  async (model) => {
    if (!model) return
    await player.listRecordings()
    losses.want(player.recordings[0]?.id ?? '')
  },
  { immediate: true },
)
onBeforeUnmount(() => losses.want())
const drawing = shallowRef(false)
/** A moment of the run that somebody has chosen, seconds. */
const moment = shallowRef(2)
function cut() {
  const frame = Math.round((Math.max(moment.value - 1, 0) * 1000) / bench.frameMs)
  player.play(`cut/${tab.value === 'back' ? 'back' : 'lost'}/${moment.value}`, { run: 1, seek: frame })
}
const drill = computed(() => losses.told?.drill)

const rows = computed(() =>
  (bench.view?.lines ?? []).map((line) => {
    const stands = drill.value?.stands.find((one) => one.output === line.id)
    return {
      line,
      mode: line.loss[0] as Field,
      value: line.loss[1],
      asked: answer.value?.functions.find((one) => one.output === line.id),
      stands,
      bar:
        typeof stands?.least === 'number' && typeof stands.most === 'number'
          ? { from: stands.least, to: stands.most }
          : undefined,
      pointed: route.query.part === `outputs/${line.id}`,
    }
  }),
)
const openRow = shallowRef<string>()

/** Something else points at a function: its row is shown, and its choice gets the keys. */
watch(
  [() => route.fullPath, () => rows.value.length],
  async () => {
    await nextTick()
    const row = table.value?.querySelector<HTMLElement>('.pointed')
    row?.scrollIntoView({ block: 'nearest' })
    row?.querySelector<HTMLElement>('[role=combobox]')?.focus()
  },
  { immediate: true },
)

/** The stage stands beside what it plays. */
const staged = shallowRef(false)
watch(
  () => player.playing?.recording ?? '',
  (playing) => {
    if (/^(lost|back|drill|cut)\//.test(playing)) staged.value = true
  },
)

const powered = shallowRef<Drill['kind']>('switch_on')
function power(kind: Drill['kind']) {
  powered.value = kind
  stage.play(kind)
}
function show(which: Tab) {
  tab.value = which
  if (which === 'on') power('switch_on')
}
</script>

<template>
  <h2 class="unseen">Loss and start</h2>
  <div v-if="bench.view" class="loss split">
    <section aria-label="When nobody is in command">
      <div class="head">
        <h3>When nobody is in command</h3>
        <div class="acts chosen" role="group" aria-label="What happens">
          <Button
            v-for="(name, key) in tabs"
            :key="key"
            class="quiet"
            :aria-pressed="tab === key"
            :data-tab="key"
            @click="show(key)"
            >{{ name }}</Button
          >
        </div>
      </div>
      <p v-if="problem" class="fault" role="alert">{{ problem.title }}</p>
      <template v-if="tab === 'lost'">
        <table ref="table">
          <thead>
            <tr class="label">
              <th scope="col">Part</th>
              <th scope="col">On a lost signal</th>
              <th scope="col">Where it then stands</th>
              <th scope="col">Other scales</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="row in rows" :key="row.line.id">
              <tr :class="{ pointed: row.pointed }" :data-loss="row.line.id">
                <th scope="row">
                  <button
                    type="button"
                    class="opens"
                    :aria-expanded="openRow === row.line.id"
                    @click="openRow = openRow === row.line.id ? undefined : row.line.id"
                  >
                    {{ row.line.label }}
                  </button>
                </th>
                <td>
                  <div class="fields">
                    <FieldChoice :field="row.mode" :name="`${row.line.label}: when the signal is lost`" />
                    <FieldNumber
                      v-if="row.value"
                      :field="row.value"
                      :name="`${row.line.label}: where it goes`"
                    />
                  </div>
                </td>
                <td>
                  <TravelRule
                    :rule="row.line.rule"
                    :p="bench.values[row.line.p] ?? 0"
                    :name="row.line.label"
                    :bar="row.bar"
                  />
                </td>
                <td class="typed fig">
                  <template v-for="one in row.asked?.scales ?? []" :key="one.key">
                    <span v-if="one.key !== 'percent'" :class="{ own: one.own }"
                      >{{ one.text }} {{ one.of }}</span
                    >
                  </template>
                  <span v-if="row.stands?.none">no pulses</span>
                </td>
              </tr>
              <tr v-if="openRow === row.line.id && row.asked" class="details">
                <td colspan="4">
                  <LossRow :id="id" :line="row.line" :asked="row.asked" :says="row.stands?.says" />
                  <button
                    v-if="row.stands?.plays"
                    type="button"
                    class="link"
                    @click="player.play(row.stands.plays, { run: 1, seek: row.stands.seek })"
                  >
                    {{
                      row.stands.worst
                        ? `Play the worst moment, ${row.stands.worst}`
                        : 'Play it, cut at any moment'
                    }}
                  </button>
                </td>
              </tr>
            </template>
          </tbody>
        </table>
        <p v-if="rows.length === 0" class="soft">There is no function yet.</p>
      </template>
      <template v-else-if="tab === 'back'">
        <p class="soft">
          The signal is lost at every moment, and comes back a second after the receiver has noticed.
        </p>
        <ul class="plain">
          <li v-for="one in drill?.returns ?? []" :key="one.plays">
            {{ one.says }}
            <button type="button" class="link" @click="player.play(one.plays, { run: 1, seek: one.seek })">
              play it
            </button>
          </li>
        </ul>
        <p v-if="drill && !drill.returns.length">Nothing turns by itself when the signal comes back.</p>
      </template>
      <template v-else>
        <div class="acts chosen">
          <Button class="quiet" :aria-pressed="powered === 'switch_on'" @click="power('switch_on')"
            >Transmitter on</Button
          >
          <Button class="quiet" :aria-pressed="powered === 'receivers_on'" @click="power('receivers_on')"
            >Model on, the transmitter already</Button
          >
          <Button class="quiet" :aria-pressed="powered === 'new_memory'" @click="power('new_memory')"
            >Memory changed, the model on</Button
          >
        </div>
        <DrillLines :drill="stage.drill?.kind === powered ? stage.drill : undefined" />
      </template>
      <p v-if="tab !== 'on'" class="soft over" role="status" :data-cuts="drill?.cuts">
        <label
          >Bars: where it may stand one second later, over every moment of
          <select
            class="box"
            :value="losses.run ?? ''"
            @change="losses.want(($event.target as HTMLSelectElement).value)"
          >
            <option v-for="one in runs" :key="one.value" :value="one.value">{{ one.label }}</option>
          </select></label
        >
        <template v-if="drill && !losses.told?.why"> ({{ drill.cuts }} cuts)</template>
        <template v-else-if="losses.told?.why"> — {{ losses.told.why }}</template>
        <template v-else>
          — {{ losses.told?.cuts ?? 0 }} of {{ losses.told?.of ?? '…' }} cuts so far</template
        >
      </p>
      <form v-if="tab !== 'on'" class="cut" @submit.prevent="cut">
        <label for="cut-at">Or cut it at</label>
        <input
          id="cut-at"
          v-model.number="moment"
          class="box fig"
          type="number"
          min="0"
          max="3600"
          step="0.1"
          required
        />
        <span>s,</span>
        <Button class="quiet" type="submit" :disabled="!drill">{{
          tab === 'back' ? 'and see it come back' : 'and see it'
        }}</Button>
        <Button class="quiet" type="button" data-draw @click="drawing = true">Draw another run</Button>
      </form>
      <DrawRun v-model:visible="drawing" @kept="losses.want($event.id)" />
      <template v-if="answer?.under">
        <p class="below">
          <Button
            class="quiet"
            data-behind="under"
            :aria-expanded="opened === 'under'"
            @click="toggle('under')"
            >Going under</Button
          >
        </p>
        <GoingUnder v-if="opened === 'under'" :told="answer.under" />
      </template>
      <PartForm class="below" part="start_check" />
      <p class="below">
        <Button class="quiet" data-behind="link" :aria-expanded="opened === 'link'" @click="toggle('link')"
          >The link and its delays</Button
        >
      </p>
      <PartForm v-if="opened === 'link'" part="link" />
    </section>
    <aside>
      <StageDock v-if="staged" @fold="staged = false" />
      <p v-else-if="stage.picture">
        <Button class="quiet" @click="staged = true">Show the stage</Button>
      </p>
      <h3>What can hurt</h3>
      <HazardCards :id="id" :hazards="answer?.hazards ?? []" :drill="drill" @back="show('back')" />
      <FindingList
        place="loss"
        :but="answer?.hazards.map((one) => one.rule) ?? []"
        title="What else was found"
      />
      <details class="cautions" open>
        <summary>Before you cut the signal for the first time</summary>
        <p v-for="line in answer?.cautions ?? []" :key="line">{{ line }}</p>
      </details>
      <h3 class="next">Before the transmitter wakes</h3>
      <StartLeast :id="id" />
    </aside>
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.loss {
  --beside: 330px;
}

.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 16px;
}

h3 {
  font-size: 1.1875rem;
}

.next {
  margin-top: 18px;
}

.below {
  margin-top: 20px;
}

.cautions {
  margin-bottom: 8px;
  line-height: 1.4;
}

.cautions summary {
  cursor: pointer;
  min-height: 32px;
}

.cautions p {
  margin: 0 0 4px;
}

.over {
  margin-top: 10px;
}

.cut {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  margin-top: 8px;
}

.cut input {
  width: 92px;
}

.plain {
  padding-left: 20px;
}

table {
  width: 100%;
  table-layout: fixed; /* the rule takes what is left, and is drawn to that */
  border-collapse: collapse;
}

thead th:nth-child(1) {
  width: 19%;
}

thead th:nth-child(2) {
  width: 300px;
}

thead th:nth-child(4) {
  width: 112px;
}

thead th {
  text-align: left;
  font-weight: 400;
  border-bottom: 1.5px solid var(--ink);
}

tbody th {
  text-align: left;
  padding-right: 10px;
}

tbody tr > * {
  border-bottom: 1px solid var(--rule);
}

.typed span {
  display: block;
  line-height: 1.3;
}

.typed .own {
  color: var(--ink);
}

.typed {
  padding-left: 10px;
  color: var(--soft);
  font-size: 0.9375rem;
}

.pointed {
  background: var(--deck);
}

.fields {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 3px 10px 3px 0;
  min-height: var(--row);
}

.fields :deep(.field) {
  flex-wrap: nowrap;
}

.fields :deep(label) {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}

/* a function becomes a small stack where there is no width for a table */
@container main (max-width: 720px) {
  thead {
    display: none;
  }

  table,
  tbody {
    display: block;
  }

  tr {
    display: grid;
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
  }

  tbody tr > * {
    border-bottom: 0;
  }

  .typed {
    padding: 0;
  }

  .fields {
    flex-wrap: wrap;
  }
}
</style>
