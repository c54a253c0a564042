<script setup lang="ts">
/** What happens from every way in which things may have been left, each with what plays it. */
import type { Drill } from '../api/client'
import { usePlayer } from '../stores/player'

defineProps<{
  /** Undefined while it is worked out. */
  drill?: Drill
}>()
const player = usePlayer()
</script>

<template>
  <p v-if="!drill" class="soft">Trying every way in which it may have been left.</p>
  <template v-else>
    <p v-if="drill.of > 1" class="label">
      {{ drill.of }} ways in which things may have been left
      {{ drill.whole ? '' : '; too many to try all: each control was moved alone' }}
    </p>
    <ul>
      <li v-for="(line, i) in drill.lines" :key="i" :class="{ danger: line.danger }">
        <strong v-if="line.danger" class="mark" aria-hidden="true">!</strong>
        <span>
          {{ line.says }}
          <button
            v-if="line.play"
            type="button"
            class="link"
            :aria-label="`Play: ${line.words}`"
            @click="player.play(`drill/${drill.kind}/${line.play}`, { run: 1, seek: 0 })"
          >
            play {{ line.such ? `with ${line.such}` : 'it' }}
          </button>
        </span>
      </li>
    </ul>
  </template>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 6px 0 10px;
  padding: 0;
}

li {
  display: flex;
  gap: 8px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
  font-size: 1rem;
}

.mark {
  flex: none;
  width: 22px;
  height: 22px;
  border: 2px solid var(--danger);
  border-radius: 50%;
  color: var(--danger);
  text-align: center;
  line-height: 19px;
}

.link {
  font-size: 0.9688rem;
  text-align: left;
}
</style>
