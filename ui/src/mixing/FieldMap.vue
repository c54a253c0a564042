<script setup lang="ts">
/** What one line of a pair is asked for over the whole square of the stick, with the hand's place on it. */
import { computed, onMounted, useTemplateRef, watch } from 'vue'

import type { Path } from '../api/client'
import { useTheme } from '../composables/useTheme'
import { way } from '../stage/numbers'
import { at, bytes, paint, side } from './field'

const props = defineProps<{
  name: string
  values: string
  cut: string
  bit: number
  x: number
  y: number
  paths?: Path[]
  figures?: boolean
}>()
const canvas = useTemplateRef('canvas')
const { dark } = useTheme()
/** Ways are drawn on a plain ground. */
const field = computed(() => (props.paths ? new Uint8Array(side * side).fill(100) : bytes(props.values)))
const cuts = computed(() => bytes(props.cut))
const now = computed(() => at(field.value, props.x, props.y))
const size = 200
const places = [-100, 0, 100]
/** In the middle lies the hand. */
const shown = places.flatMap((px) => places.map((py) => ({ px, py }))).filter(({ px, py }) => px || py)
/** Where a percentage stands on the square, with room for half a way at its edges. */
const along = (v: number) => ((v + 100) / 200) * (size - 20) + 10

function draw() {
  if (!canvas.value) return
  const style = getComputedStyle(canvas.value)
  const ink = (name: string) => {
    let hex = style.getPropertyValue(name).trim()
    // colours of the person's own palette have names: the map is drawn in black on white then
    if (!hex.startsWith('#')) hex = name === '--sheet' ? '#ffffff' : '#000000'
    return [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)) as [number, number, number]
  }
  paint(canvas.value, field.value, cuts.value, props.bit, {
    ground: ink('--sheet'),
    ahead: ink('--petrol'),
    back: ink('--soft'),
    line: ink('--ink'),
  })
}
onMounted(draw)
watch([field, cuts, dark], draw, { flush: 'post' })

const sign = (v: number) => (v > 0 ? `+${v}` : v < 0 ? `−${-v}` : '0')

const turnsOnly = (p: Path) => Math.abs(p.ahead) + Math.abs(p.side) < 0.05 && p.radius !== 0
</script>

<template>
  <figure>
    <figcaption>
      <strong>{{ name }}</strong> <span v-if="!paths" class="fig now">{{ sign(now) }}</span>
    </figcaption>
    <div class="square">
      <canvas ref="canvas" aria-hidden="true" />
      <svg
        :viewBox="`0 0 ${size} ${size}`"
        role="img"
        :aria-label="paths ? name : `${name}: ${sign(now)} where the stick is`"
      >
        <line :x1="size / 2" :x2="size / 2" y1="0" :y2="size" class="axis" />
        <line x1="0" :x2="size" :y1="size / 2" :y2="size / 2" class="axis" />
        <template v-if="figures">
          <text
            v-for="{ px, py } in shown"
            :key="`${px} ${py}`"
            :x="((px + 100) / 200) * (size - 34) + 17"
            :y="((100 - py) / 200) * (size - 20) + 14"
            text-anchor="middle"
          >
            {{ sign(at(field, px, py)) }}
          </text>
        </template>
        <svg v-if="paths" :viewBox="`0 0 ${size} ${size}`" class="clipped">
          <g
            v-for="p in paths"
            :key="`${p.x} ${p.y}`"
            class="way"
            :transform="`translate(${along(p.x)} ${along(-p.y)})`"
          >
            <circle v-if="turnsOnly(p)" r="4" />
            <path v-else :d="way(p, 22)" />
            <circle r="1.2" class="from" />
          </g>
        </svg>
        <circle :cx="((x + 100) / 200) * size" :cy="((100 - y) / 200) * size" r="7" class="hand" />
      </svg>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  min-width: 0;
}

figcaption {
  display: flex;
  gap: 8px;
  font-size: 1rem;
  min-height: 26px;
}

.now {
  font-size: 1.125rem;
  font-weight: 650;
}

.square {
  position: relative;
  aspect-ratio: 1;
  border: 1.5px solid var(--ink);
}

canvas,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: visible;
}

svg.clipped {
  overflow: hidden;
}

.axis {
  stroke: var(--ink);
  stroke-width: 0.7;
  opacity: 0.5;
}

text {
  font-family: var(--mono);
  font-size: 0.7812rem;
  font-weight: 600;
  fill: var(--ink);
  stroke: var(--sheet);
  stroke-width: 3;
  paint-order: stroke;
}

.way path,
.way circle {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}

.way .from {
  fill: var(--ink);
}

.hand {
  fill: var(--now);
  stroke: var(--ink-always);
  stroke-width: 1.5;
}
</style>
