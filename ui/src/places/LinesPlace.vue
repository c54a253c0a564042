<script setup lang="ts">
/** Lines: the register, one of them open. */
import { computed, shallowRef } from 'vue'

import LineBlock from '../parts/LineBlock.vue'
import LineRow from '../parts/LineRow.vue'
import { useBench } from '../stores/bench'

const bench = useBench()
const opened = shallowRef<string>()

/** What stands in the register: rows, and the block of the open line in the place of its first row. */
const items = computed(() => {
  const view = bench.view
  if (!view) return []
  const open = view.lines.find((l) => l.id === opened.value)
  const list = []
  let drawn = false
  for (const line of view.lines) {
    if (open && line.block === open.block) {
      const block = view.blocks[open.block]
      if (!drawn && block) list.push({ key: `block-${open.block}`, line, block })
      drawn = true
    } else {
      list.push({ key: line.id, line, block: undefined })
    }
  }
  return list
})

function fold() {
  opened.value = undefined
  bench.drop()
  bench.watch('')
}
</script>

<template>
  <h2 class="unseen">Lines</h2>
  <div v-if="bench.view" class="register">
    <div class="columns label" aria-hidden="true">
      <span>Part</span><span>From the hand</span><span>Where it stands</span><span class="us">µs</span
      ><span>Ends at</span>
    </div>
    <template v-for="item in items" :key="item.key">
      <LineBlock
        v-if="item.block"
        :block="item.block"
        :view="bench.view"
        :first="opened ?? ''"
        @fold="fold"
      />
      <LineRow
        v-else
        :line="item.line"
        :values="bench.values"
        :answering="item.line.controls.includes(bench.moving ?? '')"
        @open="opened = item.line.id"
      />
    </template>
    <p v-if="items.length === 0" class="soft empty">
      This model has no lines yet. Bring one in from a file that has outputs, in the yard.
    </p>
    <p v-if="bench.model?.unplayed.length" class="label unplayed">
      Kept, but not worked out yet: {{ bench.model.unplayed.join(', ') }}.
    </p>
  </div>
  <p v-else class="soft">Opening the bench.</p>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 164px minmax(0, 1fr) 204px 84px 184px;
  column-gap: 6px;
  padding-bottom: 4px;
  border-bottom: 1.5px solid var(--ink);
}

.us {
  text-align: right;
}

.columns span:last-child {
  padding-left: 8px;
}

.empty,
.unplayed {
  padding: 14px 0;
}

@media (max-width: 760px) {
  .columns {
    display: none;
  }
}
</style>
