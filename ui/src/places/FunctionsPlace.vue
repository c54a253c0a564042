<script setup lang="ts">
/** Functions: the register, one of them open; what no function uses yet below it. */
import Button from 'primevue/button'
import { computed, nextTick, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Line } from '../api/client'
import FindingList from '../parts/FindingList.vue'
import LineRow from '../parts/LineRow.vue'
import { useLater } from '../composables/onDemand'
import { useAdd, useParts } from '../composables/useParts'
import { useOnce } from '../composables/useOnce'
import StageDock from '../stage/StageDock.vue'
import { useStageFold } from '../stage/useStageFold'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import { useJoint } from '../stores/joint'

defineProps<{ id: string }>()
const bench = useBench()
const edits = useEdits()
const joint = useJoint()
/** What an open function needs comes once its row stands. */
const { part: LineBlock, came: blockCame } = useLater(() => import('../parts/LineBlock.vue'))
const { part: PartList } = useLater(() => import('../parts/PartList.vue'))
const { part: FeelView } = useLater(() => import('../parts/FeelView.vue'))
const { part: StandView } = useLater(() => import('../parts/StandView.vue'))
const opened = shallowRef<string>()
const { folded: stageFolded } = useStageFold()

const route = useRoute()
const router = useRouter()
/** A joint that something else points at: the line opens there. */
const pointed = computed(() => ({
  joint: String(route.query.joint ?? ''),
  part: String(route.query.part ?? ''),
}))
watch(
  [() => route.fullPath, () => bench.view !== undefined],
  () => {
    const { line, part } = route.query
    if (typeof line === 'string') opened.value = line
    else if (typeof part === 'string') opened.value = functionOf(part) ?? opened.value
  },
  { immediate: true },
)

/** The function with which a part lives: itself, or the first on which it acts. */
function functionOf(part: string): string | undefined {
  return part.startsWith('outputs/')
    ? part.slice('outputs/'.length)
    : bench.view?.behind.find((b) => b.part === part)?.lines[0]
}

/** The function that is on the stand, in place of the register. */
const onStand = computed(() => bench.view?.lines.find((l) => l.id === route.query.stand))
/** The function whose feel is open, in place of the register. */
const felt = computed(() => bench.view?.lines.find((l) => l.id === route.query.feel))
const toFeel = (id: string) => router.push({ query: { feel: id } })
const toStand = (id: string) => router.push({ query: { stand: id } })

const { once } = useOnce()
const find = shallowRef('')
const group = shallowRef<'' | 'part' | 'receiver'>('')
const { problem, add: addPart } = useAdd()
const { opened: openedPart } = useParts()

/** The functions that are looked for, in the order of the document or by groups. */
const lines = computed(() => {
  const all = (bench.view?.lines ?? []).filter((l) =>
    `${l.label} ${l.id} ${l.phrase} ${l.ends}`.toLowerCase().includes(find.value.toLowerCase()),
  )
  const by = group.value
  if (!by) return all
  const names = [...new Set(all.map((l) => l[by]))]
  return names.flatMap((name) => all.filter((l) => l[by] === name))
})

/** Feels, mixes and shares that act on nothing: they live with the functions that will use them. */
const unused = computed(() =>
  (bench.view?.behind ?? []).filter((b) => b.place === 'functions' && b.lines.length === 0),
)

/** A new function opens with its own form, so that it can be named at once. */
async function add() {
  const part = await addPart('outputs')
  if (part) await router.replace({ query: { part } })
}

/** Moves a line among the others; the key stays on it. */
async function move(line: Line, by: number) {
  const before = bench.view
  const outcome = await edits.act({ act: 'move', part: `outputs/${line.id}`, by })
  problem.value = outcome.kept || outcome.problem.status === 409 ? '' : outcome.problem.title
  const focus = async () => {
    await nextTick()
    document.querySelector<HTMLElement>(`[data-line='${line.id}'] .part`)?.focus()
  }
  // the bench tells it later than the answer
  if (bench.view === before) watch(() => bench.view, focus, { once: true })
  await focus()
}

/** What stands in the register: rows, and the block of the open line in the place of its first row. */
const items = computed(() => {
  const view = bench.view
  if (!view) return []
  const open = view.lines.find((l) => l.id === opened.value)
  const list = []
  let drawn = false
  let head = ''
  for (const line of lines.value) {
    const own = group.value ? line[group.value] : ''
    if (own !== head) list.push({ key: `head-${own}`, head: own, line, block: undefined })
    head = own
    if (open && line.block === open.block) {
      const block = view.blocks[open.block]
      if (!drawn && block) list.push({ key: `block-${open.block}`, head: '', line, block })
      drawn = true
    } else {
      list.push({ key: line.id, head: '', line, block: undefined })
    }
  }
  return list
})

/** Opens a function by hand: the address says which, and the focus goes to its title. */
async function open(line: Line) {
  await blockCame
  opened.value = line.id
  await router.replace({ query: { line: line.id } })
  await nextTick()
  document.querySelector<HTMLElement>('.block .title')?.focus({ preventScroll: true })
}

/** Folds it: the focus goes back to its row. */
async function fold() {
  const was = opened.value
  opened.value = undefined
  edits.drop()
  joint.watch('')
  await router.replace({ query: {} })
  await nextTick()
  document.querySelector<HTMLElement>(`[data-line='${was}'] .part`)?.focus({ preventScroll: true })
}
</script>

<template>
  <h2 class="unseen">Functions</h2>
  <component
    :is="StandView"
    v-if="onStand && StandView"
    :line="onStand"
    @close="router.push({ query: { line: onStand.id } })"
    @go="(id: string) => router.replace({ query: { stand: id } })"
  />
  <component
    :is="FeelView"
    v-else-if="felt && FeelView"
    :line="felt"
    @close="router.push({ query: { line: felt.id } })"
  />
  <div v-else-if="bench.view && !onStand && !felt" class="beside" :class="{ alone: stageFolded }">
    <div class="register">
      <div class="tools">
        <input
          v-model="find"
          class="box"
          type="search"
          placeholder="Find a function or a part"
          aria-label="Find a function or a part"
        />
        <label class="label"
          >in order
          <select v-model="group" class="box">
            <option value="">of the transmitter</option>
            <option value="part">of what is plugged in</option>
            <option value="receiver">of the receivers</option>
          </select></label
        >
        <Button class="quiet" @click="once($event, add)">Add a function</Button>
        <Button v-if="bench.view.lines[0]" class="quiet" @click="toStand(bench.view.lines[0].id)"
          >On the stand</Button
        >
        <Button v-if="stageFolded" class="quiet show" @click="stageFolded = false">Show the stage</Button>
        <span v-if="problem" class="fault" role="alert">{{ problem }}</span>
      </div>
      <div class="columns label" aria-hidden="true">
        <span>Function</span><span>Where it stands</span><span class="us">µs</span><span>Pin</span>
      </div>
      <template v-for="item in items" :key="item.key">
        <h3 v-if="item.head" class="group">{{ item.head }}</h3>
        <component
          :is="LineBlock"
          v-else-if="item.block && LineBlock"
          :block="item.block"
          :view="bench.view"
          :first="opened ?? ''"
          :pointed="pointed"
          @fold="fold"
          @stand="toStand"
          @feel="toFeel"
        />
        <LineRow
          v-else
          :line="item.line"
          :answering="item.line.controls.includes(bench.moving ?? '')"
          @open="open(item.line)"
          @move="move(item.line, $event)"
        />
      </template>
      <p v-if="items.length === 0" class="soft empty">
        {{
          find
            ? 'No function has these words in it.'
            : 'This model has no functions yet. Add one: it gets a channel and a pin. Then say what moves it.'
        }}
      </p>
      <p v-if="bench.model?.unplayed.length" class="label unplayed">
        Saved, but not worked out yet: {{ bench.model.unplayed.join(', ') }}.
      </p>
      <FindingList place="functions" title="What was found" />
      <template v-if="unused.length">
        <h3 class="group">Not used by any function yet</h3>
        <component :is="PartList" v-if="PartList" v-model:opened="openedPart" :parts="unused" />
      </template>
    </div>
    <StageDock v-if="!stageFolded" class="docked" @fold="stageFolded = true" />
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 372px;
  gap: 20px;
}

.beside.alone {
  grid-template-columns: minmax(0, 1fr);
}

.register {
  container: register / inline-size;
}

.docked {
  position: sticky;
  top: 0;
  align-self: start;
  max-height: 100cqh;
  overflow: auto;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 190px 58px 52px;
  column-gap: 10px;
  padding-bottom: 4px;
  border-bottom: 1.5px solid var(--ink);
}

.us {
  text-align: right;
}

.columns span:last-child {
  overflow: hidden;
  white-space: nowrap;
}

.empty,
.unplayed {
  padding: 14px 0;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
  margin-bottom: 6px;
}

.tools input {
  width: 260px;
}

.group {
  font-size: 1.0625rem;
  padding: 12px 0 4px;
  border-bottom: 1px solid var(--rule);
}

@container register (min-width: 880px) {
  .columns {
    grid-template-columns: minmax(0, 1fr) 204px 58px 240px;
  }
}

@container register (max-width: 540px) {
  .columns {
    display: none;
  }
}

@media (max-width: 1020px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }

  .docked,
  .show {
    display: none; /* the stage is a place of its own there */
  }
}

@media (max-width: 760px) {
  .tools {
    gap: 8px;
  }

  .tools input {
    flex: 1 1 90px;
    width: auto;
    min-width: 0;
  }

  .tools label {
    flex: 0 1 104px;
    font-size: 0;
  }

  .tools select {
    width: 100%;
  }
}
</style>
