import type { Picture } from '../api/client'

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

/** Names the numbers of a picture, which stand among the values from a place on. */
export function sceneOf(picture: Picture, values: number[], from: number): Scene {
  const where = picture.where
  const n = (i: number) => values[from + i] ?? 0
  const arc = (i: number) => ({ ahead: n(i), side: n(i + 1), radius: n(i + 2) })
  return {
    x: n(where.x),
    y: n(where.y),
    heading: n(where.heading),
    free: n(where.free) === 1,
    asked: arc(where.asked),
    taken: arc(where.taken),
    pivot: n(where.pivot + 2) === 1 ? { ahead: n(where.pivot), side: n(where.pivot + 1) } : undefined,
    poses: picture.parts.map((_, i) => {
      const at = where.first + where.each * i
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
