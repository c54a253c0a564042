<script setup lang="ts">
/**
 * Sheet: what to key in, in order, to print or to carry; what was ticked on a carried one comes home here.
 */
import { useStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, shallowRef, watch } from 'vue'

import { api, unreachable, type Problem, type Sheet, type Ticked } from '../api/client'
import { isFigure } from '../figures'
import { whole } from '../moments'
import BringCode from '../parts/BringCode.vue'
import { useBench } from '../stores/bench'

const props = defineProps<{ id: string }>()
const bench = useBench()
const sheet = shallowRef<Sheet>()
const problem = shallowRef<Problem>()
const ticked = shallowRef<Ticked[]>([])
const since = shallowRef(0)
/** For a memory in which nothing has been keyed in yet: the shorter one. */
const short = useStorage('axtren-sheet-short', true)

/** The newest sheet that was ticked off throughout: what changed since is all there is to do. */
const done = computed(() => ticked.value.find((t) => t.keyed === t.of))
const params = computed(() => ({ path: { id: props.id }, query: { since: since.value, short: short.value } }))
const link = (ending: string, more = '') =>
  `/api/models/${props.id}/sheet.${ending}?since=${since.value}&short=${short.value}${more}`

async function load() {
  try {
    const answer = await api.GET('/api/models/{id}/sheet', { params: params.value })
    sheet.value = answer.data ?? sheet.value
    problem.value = answer.error
  } catch {
    problem.value = unreachable
  }
}
watch([() => props.id, () => bench.model, () => since.value, () => short.value], load, { immediate: true })

async function listTicked() {
  const answer = await api
    .GET('/api/models/{id}/ticks', { params: { path: { id: props.id } } })
    .catch(() => undefined)
  ticked.value = answer?.data ?? ticked.value
}
watch(() => props.id, listTicked, { immediate: true })

/** Brings a code back, and says what is wrong with it. */
async function bring(code: string): Promise<Problem | undefined> {
  const answer = await api
    .POST('/api/models/{id}/ticks', {
      params: { path: { id: props.id } },
      body: code,
      headers: { 'Content-Type': 'text/plain' },
      bodySerializer: (body) => body,
    })
    .catch(() => ({ error: unreachable }))
  await listTicked()
  return answer.error
}

const when = (t: Ticked) => whole(t.made_at)
const print = () => window.print()
</script>

<template>
  <article v-if="sheet" class="sheet" :class="{ short: sheet.short }">
    <header>
      <div>
        <h2>{{ sheet.name }}, what to key in</h2>
        <p class="soft">{{ [sheet.about, sheet.set].filter(Boolean).join(' · ') }}</p>
      </div>
      <div class="acts">
        <a class="button strong" :href="link('html')" download>Carry as one file</a>
        <Button class="quiet" @click="print">Print</Button>
        <a class="button" :href="link('pdf', '&paper=A4')" download>PDF, A4</a>
        <a class="button" :href="link('pdf', '&paper=A6')" download>PDF, A6</a>
        <a class="button" :href="link('csv')" download>CSV</a>
      </div>
    </header>
    <label v-if="done && done.revision !== bench.model?.revision" class="field inline only"
      ><input
        type="checkbox"
        :checked="since > 0"
        @change="since = ($event.target as HTMLInputElement).checked ? done.revision : 0"
      />
      only what changed since revision {{ done.revision }}, which was ticked off</label
    >
    <fieldset v-if="since === 0" class="kinds">
      <legend class="unseen">How much of it</legend>
      <label
        ><input v-model="short" type="radio" name="short" :value="true" /> from a fresh memory: what differs
        from what it has by itself</label
      >
      <label><input v-model="short" type="radio" name="short" :value="false" /> everything</label>
    </fieldset>
    <p class="saves">{{ sheet.defer }}</p>
    <p v-if="sheet.saves" class="saves">
      <strong>This transmitter keeps a change:</strong> {{ sheet.saves }}.
    </p>
    <p v-if="sheet.cuts" class="saves">{{ sheet.cuts }}</p>
    <p v-if="sheet.since && !sheet.sections.length" class="saves">
      Nothing to key in has changed since revision {{ sheet.since }}.
    </p>
    <section v-for="section in sheet.sections" :key="section.key">
      <h3>{{ section.title }}</h3>
      <p v-if="section.caution" class="caution">{{ section.caution }}</p>
      <p v-if="section.note" class="label">{{ section.note }}</p>
      <table>
        <thead class="label">
          <tr>
            <th scope="col" class="ch">Ch</th>
            <th scope="col">What</th>
            <th scope="col" class="num value">Key in</th>
            <th scope="col" class="num">µs</th>
            <th scope="col">Note</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="item in section.items" :key="item.key">
            <td class="fig ch">{{ item.channel || '' }}</td>
            <td>{{ item.what }}</td>
            <td class="num value" :class="{ fig: isFigure(item.value) && !sheet.short }">
              <RouterLink
                v-if="item.line && item.joint"
                class="why"
                :aria-label="`${item.value}, why: ${item.what}`"
                :to="{ name: 'functions', params: { id }, query: { line: item.line, joint: item.joint } }"
                >{{ item.value }}</RouterLink><template v-else>{{ item.value }}</template>
            </td>
            <td class="fig num">{{ item.us }}</td>
            <td class="note">{{ item.note }}</td>
          </tr>
        </tbody>
      </table>
    </section>

    <section class="home">
      <h3>Bring the ticks back</h3>
      <p class="label">
        The carried file opens on a phone without any network. What is ticked in it comes back as a code or a
        file.
      </p>
      <BringCode :bring="bring" />
      <ul>
        <li v-for="(t, i) in ticked" :key="i">
          <strong>Revision {{ t.revision }}</strong
          >, {{ when(t) }}: {{ t.keyed }} keyed, {{ t.read_back }} read back, {{ t.seen }} seen, of {{ t.of }}
          <details v-if="t.open?.length">
            <summary>{{ t.open.length }} not ticked throughout</summary>
            <p v-for="one in t.open" :key="one" class="label">{{ one }}</p>
          </details>
        </li>
      </ul>
    </section>
  </article>
  <p v-else-if="problem" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
  <p v-else class="soft">Writing the sheet.</p>
</template>

<style scoped>
.sheet {
  max-width: 920px;
}

header {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

h2 {
  font-size: 1.5rem;
}

h3 {
  font-size: 1.1875rem;
  margin-top: 22px;
}

.acts {
  display: flex;
  align-items: flex-start;
  gap: 10px;
}

.caution {
  margin-top: 14px;
  padding: 10px 14px;
  border: 2px solid var(--danger);
  border-left-width: 8px;
  background: var(--sheet);
}

.why {
  display: inline-flex;
  align-items: center;
  min-height: 40px;
  color: inherit;
  text-decoration-color: var(--rule);
}

.short .value {
  width: 46%;
  text-align: left;
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 0 22px;
  margin: 6px 0;
  padding: 0;
  border: 0;
}

.kinds label {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 40px;
}

.kinds input {
  width: 20px;
  height: 20px;
  accent-color: var(--petrol);
}

.button.strong {
  background: var(--ink);
  color: var(--ground);
}

.only {
  margin-top: 10px;
  min-height: 40px;
}

.only input {
  width: 22px;
  height: 22px;
  accent-color: var(--petrol);
}

ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}

.home li {
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}

.saves {
  margin-top: 10px;
}

table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 4px;
  table-layout: fixed;
}

th {
  text-align: left;
  font-weight: 400;
  border-bottom: 1.5px solid var(--ink);
  padding: 2px 8px 2px 0;
}

td {
  border-bottom: 1px solid var(--rule);
  padding: 7px 8px 7px 0;
  vertical-align: baseline;
}

.ch {
  width: 44px;
}

.num {
  width: 210px;
  text-align: right;
  white-space: pre-wrap;
  padding-right: 18px;
}

.num + .num {
  width: 90px;
}

.value {
  font-weight: 700;
}

.note {
  color: var(--soft);
}

@media screen and (max-width: 760px) {
  header {
    flex-direction: column;
  }

  thead {
    position: absolute;
    clip-path: inset(50%);
  }

  tr {
    display: grid;
    grid-template-columns: 34px 1fr auto auto;
    border-bottom: 1px solid var(--rule);
    padding: 6px 0;
  }

  td {
    border: 0;
    padding: 2px 6px 2px 0;
  }

  .ch,
  .num,
  .num + .num,
  .short .value {
    width: auto;
  }

  .note {
    grid-column: 2 / -1;
    font-size: var(--label);
  }

  .note:empty {
    display: none;
  }
}

@media print {
  .acts,
  .home,
  .kinds,
  .only {
    display: none;
  }

  .sheet {
    max-width: none;
    font-size: 9pt;
    line-height: 1.25;
  }

  .short .value {
    width: 36%;
  }

  .short .note {
    width: 36%;
  }

  h3 {
    margin-top: 8px;
  }

  h3,
  section > .label {
    break-after: avoid;
  }

  tr,
  .caution {
    break-inside: avoid;
  }

  td,
  .caution {
    padding-top: 1px;
    padding-bottom: 1px;
  }

  .why {
    min-height: 0;
  }

  .caution {
    border-color: black;
  }
}
</style>
