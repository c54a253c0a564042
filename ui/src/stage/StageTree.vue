<script setup lang="ts">
/** The parts that stand on one part, or on the model itself, each at its place, with what stands on them. */
import { computed } from 'vue'

import type { Picture } from '../api/client'
import type { Pose } from './numbers'
import StagePart from './StagePart.vue'

const props = defineProps<{
  picture: Picture
  poses: Pose[]
  on: number
  unit: number
  hatch: string
  /** How far the model is turned, so that figures stand upright. */
  upright: number
}>()
const side = computed(() => props.picture.view === 'side')
const here = computed(() =>
  props.picture.parts.flatMap((piece, i) => {
    const pose = props.poses[i]
    return piece.on === props.on && !piece.row && pose ? [{ piece, pose, i }] : []
  }),
)
const place = (ahead: number, across: number) =>
  side.value ? `translate(${ahead} ${-across})` : `translate(${across} ${-ahead})`
</script>

<template>
  <g v-for="{ piece, pose, i } in here" :key="i" :transform="place(piece.ahead, piece.side)">
    <StagePart
      :piece="piece"
      :pose="pose"
      :side="side"
      :upright="upright"
      :unit="unit"
      :hatch="hatch"
      :bits="picture.where.bits"
    >
      <StageTree :picture="picture" :poses="poses" :on="i" :unit="unit" :hatch="hatch" :upright="upright" />
    </StagePart>
  </g>
</template>
