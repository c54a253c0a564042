<script setup lang="ts">
/** What must always hold, each with what was found out about it: proved, or broken and how. */
import Button from 'primevue/button'
import { onMounted, onUnmounted, shallowRef } from 'vue'

import type { Behind, Schemas } from '../api/client'
import PartForm from '../parts/PartForm.vue'
import { useClaims } from '../stores/claims'
import { usePlayer } from '../stores/player'
import ClaimCures from './ClaimCures.vue'

defineProps<{ id: string; parts: Behind[] }>()
const opened = defineModel<string>('opened')
/** The claim for which it is looked what would cure it. */
const curing = shallowRef<string>()
const claims = useClaims()
const player = usePlayer()
onMounted(() => claims.want(true))
onUnmounted(() => claims.want(false))

type Told = Schemas['ClaimTold']
const of = (part: string) => claims.told.find((one) => one.claim === part)
const marks = { holds: '✓', fails: '✗', undecided: '?', looking: '…' }
const said = { holds: 'holds', fails: 'is broken', undecided: 'not proved yet', looking: 'is being searched' }
/** What hands do, one after the other, before the line that says when it shows. */
const steps = (told: Told) => (told.plays ? told.lines.slice(0, -1) : [])
const last = (told: Told) => told.lines.at(-1) ?? ''
const toggle = (part: string) => (opened.value = opened.value === part ? undefined : part)
</script>

<template>
  <div>
    <div
      v-for="b in parts"
      :key="b.part"
      class="claim"
      :data-behind="b.part"
      :data-verdict="of(b.part)?.verdict"
    >
      <span class="mark" :class="of(b.part)?.verdict" aria-hidden="true">{{
        marks[of(b.part)?.verdict ?? 'looking']
      }}</span>
      <div class="what">
        <button type="button" class="name opens" :aria-expanded="opened === b.part" @click="toggle(b.part)">
          {{ b.label }}
        </button>
        <p v-if="opened === b.part" class="soft">{{ b.words }}</p>
        <template v-if="of(b.part)">
          <p class="soft">
            <b>{{ said[of(b.part)!.verdict] }}</b><template v-if="!steps(of(b.part)!).length"
              >. {{ last(of(b.part)!) }}</template
            ><template v-else>:</template>
          </p>
          <ol v-if="steps(of(b.part)!).length">
            <li v-for="(line, i) in steps(of(b.part)!)" :key="i">{{ line }}</li>
            <li>{{ last(of(b.part)!) }}</li>
          </ol>
          <p v-if="of(b.part)!.plays" class="acts">
            <Button class="plain" @click="player.play(of(b.part)!.plays, { run: 1, seek: 0 })"
              >Play it</Button
            >
            <Button
              v-if="of(b.part)!.verdict === 'fails'"
              class="quiet"
              :aria-expanded="curing === b.part"
              @click="curing = curing === b.part ? undefined : b.part"
              >What would cure it?</Button
            >
          </p>
          <ClaimCures v-if="curing === b.part && of(b.part)!.verdict === 'fails'" :id :claim="b.part" />
          <p v-else-if="of(b.part)!.verdict === 'looking'" class="acts">
            <Button class="quiet" @click="claims.stop(b.part)">Stop the search</Button>
          </p>
        </template>
        <PartForm
          v-if="opened === b.part"
          :part="b.part"
          @gone="opened = undefined"
          @renamed="opened = $event"
        />
      </div>
    </div>
    <p v-if="!parts.length" class="soft">
      Nothing is written down yet, such as: the winch never turns while the drum is locked.
    </p>
  </div>
</template>

<style scoped>
.claim {
  display: flex;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

.mark {
  flex: 0 0 22px;
  font-size: 1.125rem;
  font-weight: 700;
  line-height: 1.5;
  text-align: center;
}

.mark.fails {
  color: var(--danger);
}

.what {
  flex: 1;
  min-width: 0;
  line-height: 1.35;
}

.name:hover {
  text-decoration: underline;
}

ol {
  margin: 2px 0;
  padding-left: 22px;
}
</style>
