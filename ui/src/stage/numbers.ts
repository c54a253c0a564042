import type { Picture } from '../api/client'

/** What the flags of a part say; as core/stage has them. */
export const flag = {
  lost: 1,
  pushes: 2,
  atStop: 4,
  free: 8,
  moves: 16,
  unknown: 32,
  clashes: 64,
  brakes: 128,
}

export interface Pose {
  at: number
  other: number
  asked: number
  flags: number
  turn: number
}

export interface Arc {
  ahead: number
  side: number
  radius: number
}

export interface Scene {
  x: number
  y: number
  heading: number
  free: boolean
  asked: Arc
  taken: Arc
  pivot?: { ahead: number; side: number }
  poses: Pose[]
}

const head = 15
const each = 5

/** Names the numbers of a stage: their order is that of the contract's Picture. */
export function sceneOf(picture: Picture, values: number[], from: number): Scene {
  const n = (i: number) => values[from + i] ?? 0
  const arc = (i: number) => ({ ahead: n(i), side: n(i + 1), radius: n(i + 2) })
  return {
    x: n(0),
    y: n(1),
    heading: n(2),
    free: n(5) === 1,
    asked: arc(6),
    taken: arc(9),
    pivot: n(14) === 1 ? { ahead: n(12), side: n(13) } : undefined,
    poses: picture.parts.map((_, i) => {
      const at = head + each * i
      return { at: n(at), other: n(at + 1), asked: n(at + 2), flags: n(at + 3), turn: n(at + 4) }
    }),
  }
}

/** Draws the way of an arc from the model, up the page; it goes round less than half a circle. */
export function way(a: Arc, scale = 1): string {
  const end = `${a.side * scale} ${-a.ahead * scale}`
  if (a.radius === 0) return `M0 0 L${end}`
  const r = Math.abs(a.radius) * scale
  return `M0 0 A${r} ${r} 0 0 ${a.radius > 0 ? 1 : 0} ${end}`
}

/** A sector of a circle, degrees clockwise from up. */
export function sector(from: number, to: number, r: number): string {
  const at = (deg: number) => `${r * Math.sin((deg * Math.PI) / 180)} ${-r * Math.cos((deg * Math.PI) / 180)}`
  return `M0 0 L${at(from)} A${r} ${r} 0 ${to - from > 180 ? 1 : 0} 1 ${at(to)}z`
}
