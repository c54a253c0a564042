<script setup lang="ts">
/** The parts that have no place in the picture, each with what it does, in words and as a small mark. */
import { computed } from 'vue'

import type { Picture, Piece } from '../api/client'
import type { Pose } from './numbers'

const props = defineProps<{
  picture: Picture
  poses: Pose[]
  /** What each of them does, in the order of the parts. */
  words: string[]
}>()

const row = computed(() =>
  props.picture.parts
    .flatMap((piece, i) => {
      const pose = props.poses[i]
      return piece.row && pose ? [{ piece, pose, i }] : []
    })
    .map((one, k) => ({ ...one, says: props.words[k] ?? '' })),
)

/** Whether it is shown as a mark on a scale. */
const along = (piece: Piece) =>
  piece.part !== 'turret' && ['dials', 'slides', 'swings', 'steps'].includes(piece.moves)

/** Where on its scale of 36 px it stands. */
function shift(piece: Piece, at: number) {
  const share = (at - piece.low) / Math.max(piece.high - piece.low, 1e-9)
  return { transform: `translateX(${(36 * Math.min(Math.max(share, 0), 1)).toFixed(1)}px)` }
}
</script>

<template>
  <ul v-if="row.length" class="row" aria-label="Parts without a place in the picture">
    <li
      v-for="{ piece, pose, says, i } in row"
      :key="i"
      :class="{ free: pose.flags & picture.where.bits.moves_free }"
    >
      <!-- moved without being laid out again: there may be dozens of them -->
      <span v-if="along(piece)" class="mark scale" aria-hidden="true">
        <i v-if="piece.moves !== 'steps'" class="asked" :style="shift(piece, pose.asked)" />
        <i class="now" :style="shift(piece, pose.at)" />
      </span>
      <svg v-else class="mark" viewBox="0 0 44 26" width="44" height="26" aria-hidden="true">
        <g v-if="piece.part === 'turret'">
          <circle cx="22" cy="13" r="10" class="open" />
          <line x1="22" y1="13" x2="22" y2="1" class="ink" :transform="`rotate(${pose.at} 22 13)`" />
        </g>
        <template v-else-if="piece.moves === 'turns'">
          <circle cx="22" cy="13" r="10" class="open" />
          <path
            v-if="pose.at !== 0"
            :transform="pose.at < 0 ? 'translate(44 0) scale(-1 1)' : ''"
            d="M15 13 H28 M23 8 L29 13 L23 18"
            class="ink"
          />
        </template>
        <circle v-else cx="22" cy="13" r="9" :class="pose.at ? 'lit' : 'open'" />
      </svg>
      <span
        ><strong>{{ piece.label }}</strong> <span class="soft">{{ says }}</span></span
      >
    </li>
  </ul>
</template>

<style scoped>
.row {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(165px, 1fr));
  gap: 2px 10px;
}

li {
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 34px;
  font-size: 0.9375rem;
  line-height: 1.15;
}

.mark {
  flex: none;
  width: 44px;
  height: 26px;
}

.scale {
  position: relative;
  background: linear-gradient(var(--ink), var(--ink)) 4px 18px / 36px 1.8px no-repeat;
}

.scale i {
  position: absolute;
  left: 4px;
}

.asked {
  top: 8px;
  height: 14px;
  margin-left: -1px;
  border-left: 1.8px dashed var(--ink);
}

.now {
  top: 6px;
  width: 5px;
  height: 16px;
  margin-left: -2.5px;
  background: var(--ink);
}

.ink,
.open {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}

.lit {
  fill: var(--now);
  stroke: var(--ink);
  stroke-width: 1.8;
}

.free strong {
  text-decoration: underline dotted var(--danger) 2px;
}
</style>
