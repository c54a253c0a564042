<script setup lang="ts">
/** What can hurt while nobody is in command, each with what mends it and its worst moment. */
import Button from 'primevue/button'

import type { Schemas } from '../api/client'
import { places } from '../places/places'
import { useOnce } from '../composables/useOnce'
import { useEdits } from '../stores/edits'
import { usePlayer } from '../stores/player'

const props = defineProps<{
  id: string
  hazards: Schemas['LossHazard'][]
  drill?: Schemas['LossDrill']
}>()
const titles = Object.fromEntries(places.map((place) => [place.name, place.title]))
const emit = defineEmits<{ back: [] }>()
const edits = useEdits()
const player = usePlayer()
const { once } = useOnce()

const worst = (output: string) => props.drill?.stands.find((one) => one.output === output && one.plays)
</script>

<template>
  <ul class="cards">
    <li v-for="one in hazards" :key="one.says" :class="one.severity" data-hazard>
      <p>
        <b>{{ one.severity === 'warning' ? '▲ ' : '' }}{{ one.says }}</b> {{ one.since }} {{ one.remedy }}
      </p>
      <div class="acts">
        <Button v-if="one.patch" @click="once($event, () => edits.keep(one.patch!))">{{ one.mend }}</Button>
        <RouterLink v-if="one.leads" :to="{ name: one.leads, params: { id } }">{{
          titles[one.leads]
        }}</RouterLink>
        <button
          v-if="worst(one.output)"
          type="button"
          class="link"
          @click="player.play(worst(one.output)!.plays, { run: 1, seek: worst(one.output)!.seek })"
        >
          {{ worst(one.output)!.worst ? 'Play the worst moment' : 'Play it' }}
        </button>
      </div>
    </li>
    <li v-if="drill?.back && drill.returns[0]" data-returns>
      <p>{{ drill.back }}</p>
      <div class="acts">
        <button
          type="button"
          class="link"
          @click="player.play(drill.returns[0].plays, { run: 1, seek: drill.returns[0].seek })"
        >
          Play it
        </button>
        <button type="button" class="link" @click="emit('back')">Look at each</button>
      </div>
    </li>
  </ul>
  <p v-if="!hazards.length && !drill?.back" class="soft">
    Nothing was found: what turns stops, or is not there.
  </p>
</template>

<style scoped>
.cards {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}

li {
  padding: 8px 12px 10px;
  border: 1px solid var(--ink);
  background: var(--sheet);
}

li.warning {
  border-color: var(--danger);
  border-left-width: 8px;
}

p {
  margin: 0 0 4px;
  line-height: 1.4;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
}
</style>
