<script setup lang="ts">
/** How to get to what was asked for: what to do, one after the other, and a press that plays it. */
import Button from 'primevue/button'

import { usePlayer } from '../stores/player'
import { useWays } from '../stores/ways'

defineProps<{ title: string }>()
const emit = defineEmits<{ plays: [] }>()
const ways = useWays()
const player = usePlayer()

function play(what: string) {
  player.play(what, { run: 1, seek: 0 })
  emit('plays')
}
</script>

<template>
  <div class="way-to" role="status" data-way>
    <p>{{ title }}</p>
    <p v-if="!ways.answer || ways.answer.looking" class="soft">Being looked for, from how things are now.</p>
    <template v-else>
      <ol v-if="ways.answer.lines.length > 1">
        <li v-for="(line, i) in ways.answer.lines" :key="i">{{ line }}</li>
      </ol>
      <p v-else>{{ ways.answer.lines[0] }}</p>
      <p class="acts">
        <Button v-if="ways.answer.plays" class="plain" @click="play(ways.answer.plays)">Play it</Button>
        <Button v-if="ways.asked" class="quiet" @click="ways.ask(ways.asked)">From how it is now</Button>
      </p>
    </template>
  </div>
</template>

<style scoped>
.way-to {
  line-height: 1.4;
}

ol {
  margin: 2px 0 8px;
  padding-left: 24px;
}

p {
  margin: 2px 0;
}
</style>
