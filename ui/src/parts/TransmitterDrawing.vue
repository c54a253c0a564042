<script setup lang="ts">
/**
 * The transmitter as it lies in the hands, drawn: each control where it lies and as it stands, the one that
 * moves marked. What the controls are called stands beside it.
 */
import { computed } from 'vue'

import type { Control } from '../api/client'
import { useBench } from '../stores/bench'
import { others, pads, type Side } from './deckPlaces'

const props = defineProps<{ controls: Control[] }>()
const bench = useBench()

/** The body, and what lies where in it, in the units of the drawing. */
const width = 300
const top = 34
const pad = 72
const padTop = 66
const inset: Record<Side, number> = { left: 40, between: (width - pad) / 2, right: width - 40 - pad }

const body =
  `M 40 ${top} H 260 Q 276 ${top} 280 50 L 296 180 Q 298 202 276 202 ` +
  `H 24 Q 2 202 4 180 L 20 50 Q 24 ${top} 40 ${top} Z`

const at = (control?: Control) => {
  const hand = control && bench.hands[control.id]
  return typeof hand === 'number' ? hand / 100 : 0
}
const live = (...controls: (Control | undefined)[]) =>
  controls.some((c) => c !== undefined && c.id === bench.moving)

/** Sticks, a wheel and a trigger; two on the same side stand above each other, half as large. */
const large = computed(() => {
  const all = pads(props.controls)
  return all.map((one) => {
    const beside = all.filter((other) => other.side === one.side)
    const size = pad / beside.length
    const x = inset[one.side] + (pad - size) / 2
    const y = padTop + beside.indexOf(one) * size
    return {
      ...one,
      size,
      x,
      y,
      cross: `M ${x} ${y + size / 2} h ${size} M ${x + size / 2} ${y} v ${size}`,
      dot: { x: at(one.across) * 0.4, y: -at(one.along ?? one.control) * 0.4 },
      live: live(one.across, one.along, one.control),
    }
  })
})

/** The first place of each side, and how it goes on from there. */
const runs: Record<Side, { from: number; step: number }> = {
  left: { from: 46, step: 1 },
  between: { from: width / 2, step: 0 },
  right: { from: width - 46, step: -1 },
}

/** Places side by side from the outside in; those between stand around the middle. */
function spread(side: Side, i: number, of: number, apart: number): number {
  const { from, step } = runs[side]
  return step === 0 ? from + (i - (of - 1) / 2) * apart : from + step * i * apart
}

const small = computed(() => {
  const list: { control: Control; kind: 'throw' | 'press' | 'slide'; x: number; y: number }[] = []
  for (const { side, controls } of others(props.controls)) {
    const button = (c: Control) => c.spring !== '' && c.positions?.length === 2
    const kinds = {
      throw: controls.filter((c) => c.kind === 'switch' && !button(c)),
      press: controls.filter((c) => c.kind === 'switch' && button(c)),
      slide: controls.filter((c) => c.kind !== 'switch'),
    }
    const lies = { throw: { y: top, apart: 24 }, press: { y: 172, apart: 26 }, slide: { y: 102, apart: 18 } }
    for (const kind of ['throw', 'press', 'slide'] as const) {
      const apart = Math.min(lies[kind].apart, 96 / Math.max(kinds[kind].length, 1))
      kinds[kind].forEach((control, i) => {
        // levers stand between the sticks, where nothing else does
        const from =
          kind === 'slide' && side !== 'between' ? (side === 'left' ? 124 : width - 124) : undefined
        const x =
          from === undefined
            ? spread(side, i, kinds[kind].length, apart)
            : from + (side === 'left' ? 1 : -1) * i * Math.min(apart, 20 / kinds[kind].length)
        list.push({ control, kind, x, y: lies[kind].y })
      })
    }
  }
  return list
})

/** How a switch leans: from the left to the right through its positions. */
function lean(control: Control): number {
  const positions = control.positions ?? []
  const i = Math.max(positions.indexOf(String(bench.hands[control.id] ?? '')), 0)
  return positions.length < 2 ? 0 : (i / (positions.length - 1) - 0.5) * 50
}
const pressed = (control: Control) => bench.hands[control.id] !== control.spring
</script>

<template>
  <svg :viewBox="`0 0 ${width} 208`" aria-hidden="true" class="transmitter">
    <g v-for="one in small.filter((s) => s.kind === 'throw')" :key="one.control.id">
      <path
        class="lever"
        :class="{ live: live(one.control) }"
        :d="`M ${one.x} ${one.y + 4} v -26`"
        :transform="`rotate(${lean(one.control)} ${one.x} ${one.y})`"
      />
    </g>
    <path class="body" :d="body" />
    <g v-for="one in large" :key="one.key">
      <circle
        v-if="one.control?.form === 'wheel'"
        class="well"
        :cx="one.x + one.size / 2"
        :cy="one.y + one.size / 2"
        :r="one.size / 2"
      />
      <rect v-else class="well" :x="one.x" :y="one.y" :width="one.size" :height="one.size" />
      <path class="cross" :d="one.cross" />
      <circle
        class="knob"
        :class="{ live: one.live }"
        :cx="one.x + one.size * (0.5 + (one.control?.form === 'wheel' ? -one.dot.y : one.dot.x))"
        :cy="one.y + one.size * (0.5 + (one.control?.form === 'wheel' ? 0 : one.dot.y))"
        :r="one.size / 8"
      />
    </g>
    <template v-for="one in small" :key="one.control.id">
      <circle
        v-if="one.kind === 'press'"
        class="knob"
        :class="{ live: live(one.control), pressed: pressed(one.control) }"
        :cx="one.x"
        :cy="one.y"
        r="9"
      />
      <g v-else-if="one.kind === 'slide'">
        <rect class="well" :x="one.x - 5" :y="one.y - 34" width="10" height="68" rx="5" />
        <rect
          class="knob"
          :class="{ live: live(one.control) }"
          :x="one.x - 8"
          :y="one.y - 5 - at(one.control) * 28"
          width="16"
          height="10"
          rx="2"
        />
      </g>
    </template>
  </svg>
</template>

<style scoped>
.transmitter {
  width: 100%;
}

.body,
.well,
.knob {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.6;
}

.cross {
  stroke: var(--rule);
}

.lever {
  fill: none;
  stroke: var(--ink);
  stroke-width: 6;
  stroke-linecap: round;
}

.lever.live {
  stroke-width: 9;
}

.knob.pressed {
  fill: var(--ink);
}

.knob.live {
  fill: var(--now);
}
</style>
