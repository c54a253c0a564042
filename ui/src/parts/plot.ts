/** A plot of percent over the travel of a control: how large it is, and where a point lies on it. */
export function plotOf(w: number, h: number) {
  const edge = { left: 46, right: 26, top: 10, bottom: 30 }
  const wide = w - edge.left - edge.right
  const high = h - edge.top - edge.bottom
  return {
    w,
    h,
    ...edge,
    x: (v: number) => edge.left + ((v + 100) / 200) * wide,
    y: (v: number) => edge.top + ((150 - v) / 300) * high,
    /** Back from a place on the drawing to percent. */
    at: (px: number, py: number): [number, number] => [
      ((px - edge.left) / wide) * 200 - 100,
      150 - ((py - edge.top) / high) * 300,
    ],
  }
}
export type Plot = ReturnType<typeof plotOf>

/** Points joined by straight lines. */
export const joined = (plot: Plot, points: number[][]) =>
  points.map(([a, b], i) => `${i ? 'L' : 'M'}${plot.x(a ?? 0)} ${plot.y(b ?? 0)}`).join('')

/** The point of a line that lies nearest to a place along it. */
export const nearest = (points: number[][], at: number): number[] =>
  points.reduce(
    (best, p) => (Math.abs((p[0] ?? 0) - at) < Math.abs((best[0] ?? 0) - at) ? p : best),
    points[0] ?? [],
  )
