<script setup lang="ts">
/** Something is wrong: from what is seen, and the part it is about, to the joints that can cause it. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { onMounted, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, type Complaint } from '../api/client'
import { useBench } from '../stores/bench'
import { useSeen } from '../stores/seen'
import { useTrouble } from '../stores/trouble'
import { useWays } from '../stores/ways'
import WayTo from './WayTo.vue'
import WhatISee from './WhatISee.vue'

const visible = defineModel<boolean>('visible', { required: true })
const bench = useBench()
const trouble = useTrouble()
const router = useRouter()
const ways = useWays()
const complaints = shallowRef<Complaint[]>([])
const complaint = shallowRef('')
/** The second page: one try after the other. */
const stepping = shallowRef(false)
const seen = useSeen()
watch(
  visible,
  (now) => {
    if (!now || !seen.wanted) return
    stepping.value = true
    seen.wanted = false
  },
  { immediate: true },
)
const line = shallowRef('')

onMounted(async () => {
  complaints.value = (await api.GET('/api/complaints')).data ?? []
})
watch([complaint, line, visible, stepping], () => {
  const asked = visible.value && !stepping.value && complaint.value !== '' && line.value !== ''
  trouble.complain(asked ? complaint.value : '', line.value)
  // where nothing happens it is said what would make it do something
  const nothing = asked && complaint.value === 'nothing'
  if (nothing) ways.ask({ output: line.value })
  else if (ways.asked && 'output' in ways.asked) ways.ask()
})
const label = () => bench.view?.lines.find((one) => one.id === line.value)?.label ?? ''

function words(): string {
  return complaints.value.find((c) => c.key === complaint.value)?.words ?? ''
}

function go(cause: { place: string; line: string; joint?: string; part: string }) {
  visible.value = false
  void router.push({
    name: cause.place,
    params: { id: bench.model?.id },
    // the time makes it another way each time: the function may have been folded since
    query: { line: cause.line, joint: cause.joint, part: cause.part, at: Date.now() },
  })
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Something is wrong" :style="{ width: 'min(760px, 94vw)' }">
    <p class="pages">
      <Button class="quiet" :aria-pressed="!stepping" @click="stepping = false"
        >One part, one complaint</Button
      >
      <Button class="quiet" :aria-pressed="stepping" @click="stepping = true">What I see, try by try</Button>
    </p>
    <WhatISee v-if="stepping" @go="go" />
    <template v-else>
      <div class="acts">
        <label
          >What
          <select v-model="line" class="box" data-trouble="line">
            <option value="">choose the part</option>
            <option v-for="l in bench.view?.lines" :key="l.id" :value="l.id">
              {{ l.label }} · {{ l.ends }}
            </option>
          </select></label
        >
        <label
          >and how
          <select v-model="complaint" class="box" data-trouble="complaint">
            <option value="">choose what you see</option>
            <option v-for="c in complaints" :key="c.key" :value="c.key">{{ c.words }}</option>
          </select></label
        >
      </div>
      <WayTo
        v-if="ways.asked && 'output' in ways.asked"
        class="moves"
        :title="`What makes ${label()} do something, as it stands now:`"
        @plays="visible = false"
      />
      <template v-if="trouble.causes">
        <ol v-if="trouble.causes.length" class="causes">
          <li v-for="(cause, i) in trouble.causes" :key="i" :class="{ now: cause.now }">
            <p>
              <strong v-if="cause.now">Now: </strong>{{ cause.what }}
              <span class="soft">{{ cause.look }}</span>
            </p>
            <button type="button" class="link" @click="go(cause)">Go there</button>
          </li>
        </ol>
        <p v-else role="status">
          Nothing in this setup makes that it “{{ words() }}”. Look at the leads, the plug in its pin, the
          part itself and its power.
        </p>
      </template>
      <p v-else class="soft">
        Choose the part and what you see: what can cause it is worked out from the setup as it stands now.
      </p>
    </template>
  </Dialog>
</template>

<style scoped>
.pages {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 0;
}

.pages [aria-pressed='true'] {
  background: var(--ink);
  color: var(--sheet);
}

.moves {
  margin: 12px 0 4px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--rule);
}

.causes {
  padding-left: 24px;
}

.causes li {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

select {
  max-width: 320px;
}
</style>
