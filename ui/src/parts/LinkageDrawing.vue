<script setup lang="ts">
/**
 * A linkage to scale, where the servo stands now, and faintly at the ends that are set. The holes of arm and
 * horn and the hinge are dragged; what they become is told when they are let go.
 */
import { computed, shallowRef, useTemplateRef } from 'vue'

import type { LinkageReport } from '../api/client'
import { setting } from '../figures'

const props = defineProps<{ report: LinkageReport; p: number; low: number; high: number; name: string }>()
const emit = defineEmits<{ drag: [what: Hole, mm: Point] }>()

type Pose = LinkageReport['poses'][number]
type Point = [number, number]
type Hole = 'arm' | 'horn' | 'hinge'
const svg = useTemplateRef<SVGSVGElement>('svg')

/** The pose at a position, between the two that are drawn nearest to it. */
function poseAt(position: number): Pose | undefined {
  const poses = props.report.poses
  const after = poses.findIndex((pose) => pose.position >= position)
  const [b, a] = [poses[after], poses[after - 1]]
  if (!b || !a || b.position - a.position > 2.5) return b ?? poses.at(-1)
  const share = (position - a.position) / (b.position - a.position)
  const between = (one: number[], other: number[]) =>
    one.map((v, i) => v + share * ((other[i] ?? v) - v)) as Point
  return {
    ...b,
    position,
    arm: between(a.arm, b.arm),
    end: between(a.end, b.end),
    part: a.part + share * (b.part - a.part),
  }
}
const now = computed(() => poseAt(props.p))
const ends = computed(() => [poseAt(props.low), poseAt(props.high)].filter((pose) => pose !== undefined))
const hinge = computed(() => props.report.hinge as Point)
const turns = computed(() => props.report.kind === 'rod' || props.report.kind === 'pull_pull')
const other = (pose: Pose): Point => [
  2 * (hinge.value[0] ?? 0) - (pose.end[0] ?? 0),
  2 * (hinge.value[1] ?? 0) - (pose.end[1] ?? 0),
]
/** What is seen: all that can be reached, with a margin. */
const box = computed(() => {
  const all: number[][] = [[0, 0], ...props.report.poses.flatMap((pose) => [pose.arm, pose.end])]
  if (turns.value) all.push(hinge.value, ...props.report.poses.map(other))
  const xs = all.map((at) => at[0] ?? 0)
  const ys = all.map((at) => -(at[1] ?? 0))
  const [left, right] = [Math.min(...xs), Math.max(...xs)]
  const [top, bottom] = [Math.min(...ys), Math.max(...ys)]
  const margin = Math.max(right - left, bottom - top) * 0.16 + 2
  return { x: left - margin, y: top - margin, w: right - left + 2 * margin, h: bottom - top + 2 * margin }
})
const unit = computed(() => Math.max(box.value.w / 400, box.value.h / 300))
const line = (a: number[], b: number[]) => ({ x1: a[0], y1: -(a[1] ?? 0), x2: b[0], y2: -(b[1] ?? 0) })

const round = (v: number) => setting(Math.round(v * 10) / 10)
/** What can be taken hold of. */
const holes = computed(() => {
  const list: { what: Hole; at: number[] }[] = [{ what: 'arm', at: now.value?.arm ?? [] }]
  if (turns.value) list.push({ what: 'horn', at: now.value?.end ?? [] }, { what: 'hinge', at: hinge.value })
  return list
})

const dragged = shallowRef<{ what: Hole; at: Point }>()
function place(event: PointerEvent): Point | undefined {
  const matrix = svg.value?.getScreenCTM()
  if (!matrix) return undefined
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
  return [Math.round(at.x * 2) / 2, Math.round(-at.y * 2) / 2]
}
function grip(what: Hole, event: PointerEvent) {
  const at = place(event)
  if (!at) return
  ;(event.target as Element).setPointerCapture(event.pointerId)
  dragged.value = { what, at }
}
function move(event: PointerEvent) {
  const at = place(event)
  if (dragged.value && at) dragged.value = { ...dragged.value, at }
}
function release() {
  if (dragged.value) emit('drag', dragged.value.what, dragged.value.at)
  dragged.value = undefined
}
</script>

<template>
  <svg
    ref="svg"
    class="linkage"
    :viewBox="`${box.x} ${box.y} ${box.w} ${box.h}`"
    role="img"
    :aria-label="`The linkage of ${name}, to scale`"
    @pointermove="move"
    @pointerup="release"
    @pointercancel="dragged = undefined"
  >
    <g :stroke-width="unit * 1.2" class="ghost">
      <g v-for="(pose, i) in ends" :key="i">
        <line v-bind="line([0, 0], pose.arm)" />
        <line v-bind="line(pose.arm, pose.end)" />
        <line v-if="turns" v-bind="line(hinge, pose.end)" />
      </g>
    </g>
    <circle cx="0" cy="0" :r="unit * 14" class="servo" :stroke-width="unit * 1.6" />
    <template v-if="now">
      <g :stroke-width="unit * 3" class="rods">
        <line v-bind="line(now.arm, now.end)" />
        <line
          v-if="report.kind === 'pull_pull'"
          v-bind="line([-(now.arm[0] ?? 0), -(now.arm[1] ?? 0)], other(now))"
        />
      </g>
      <g :stroke-width="unit * 6" class="arms">
        <line v-bind="line([0, 0], now.arm)" />
        <line
          v-if="report.kind === 'pull_pull'"
          v-bind="line([0, 0], [-(now.arm[0] ?? 0), -(now.arm[1] ?? 0)])"
        />
        <template v-if="turns">
          <line v-bind="line(hinge, now.end)" />
          <line v-bind="line(hinge, other(now))" class="part" />
        </template>
        <rect
          v-else
          :x="(now.end[0] ?? 0) - unit * 12"
          :y="-(now.end[1] ?? 0) - unit * 7"
          :width="unit * 24"
          :height="unit * 14"
          class="block"
        />
      </g>
      <line
        v-if="!turns"
        class="ghost"
        :stroke-width="unit"
        :stroke-dasharray="unit * 4"
        v-bind="line([box.x, now.end[1] ?? 0], [box.x + box.w, now.end[1] ?? 0])"
      />
      <circle cx="0" cy="0" :r="unit * 4" class="shaft" />
      <circle
        v-for="hole in holes"
        :key="hole.what"
        :class="hole.what === 'hinge' ? 'shaft grip' : 'hole'"
        :cx="hole.at[0]"
        :cy="-(hole.at[1] ?? 0)"
        :r="unit * 7"
        :stroke-width="unit * 1.6"
        :data-hole="hole.what"
        @pointerdown="grip(hole.what, $event)"
      />
      <g :font-size="unit * 14" class="words">
        <text :x="unit * 18" :y="unit * 30">arm {{ round(report.arm) }} mm</text>
        <text
          v-if="report.rod"
          :x="((now.arm[0] ?? 0) + (now.end[0] ?? 0)) / 2"
          :y="-((now.arm[1] ?? 0) + (now.end[1] ?? 0)) / 2 - unit * 8"
          text-anchor="middle"
        >
          {{ report.kind === 'pull_pull' ? 'wire' : 'rod' }} {{ round(report.rod) }} mm
        </text>
        <text
          v-if="turns"
          :x="(hinge[0] ?? 0) - unit * 14"
          :y="-(hinge[1] ?? 0) + unit * 30"
          text-anchor="end"
        >
          horn {{ round(report.horn) }} mm
        </text>
        <text :x="box.x + box.w - unit * 8" :y="box.y + box.h - unit * 8" text-anchor="end" class="part">
          {{ round(now.part) }}{{ report.unit }}{{ now.beyond ? ', further than it can go' : '' }}
        </text>
      </g>
    </template>
    <circle
      v-if="dragged"
      class="hole"
      :cx="dragged.at[0]"
      :cy="-dragged.at[1]"
      :r="unit * 9"
      :stroke-width="unit * 2"
    />
  </svg>
</template>

<style scoped>
.linkage {
  width: 100%;
  max-height: 300px;
  touch-action: none;
}

.ghost line,
line.ghost {
  stroke: var(--rule);
}

.servo {
  fill: var(--sheet);
  stroke: var(--ink);
}

.rods line,
.arms line {
  stroke: var(--ink);
  stroke-linecap: round;
}

.block {
  fill: var(--sheet);
  stroke: var(--ink);
}

.shaft {
  fill: var(--ink);
}

.hole {
  fill: var(--now);
  stroke: var(--ink);
  cursor: grab;
}

.grip {
  cursor: grab;
}

.words {
  fill: var(--ink);
}
</style>
