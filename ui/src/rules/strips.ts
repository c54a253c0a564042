import { place, type Strip } from '../stores/record'

/** How strips are drawn: the colours of the page. */
export interface Ink {
  ink: string
  soft: string
  rule: string
  deck: string
  now: string
  petrol: string
}

export interface Window {
  from: number
  to: number
  width: number
  row: number
}

/** The part of the row above and below a strip that stays free, px. */
const gap = 6

/** Draws one strip into its row of a canvas. What lies closer than a pixel is drawn once. */
export function drawStrip(
  ink: CanvasRenderingContext2D,
  strip: Strip,
  top: number,
  at: Window,
  colours: Ink,
) {
  const x = (frame: number) => ((frame - at.from) / (at.to - at.from)) * at.width
  const high = top + gap
  const low = top + at.row - gap
  const first = place(strip.frames, at.from)
  let value = first < 0 ? strip.first : (strip.values[first] ?? strip.first)
  if (strip.kind === 'name') return drawNames(ink, strip, first, value, top, at, x, colours)
  const y = (v: number) =>
    strip.kind === 'truth'
      ? v > 0
        ? high
        : low
      : low - ((Math.max(-100, Math.min(100, v)) + 100) / 200) * (low - high)
  ink.beginPath()
  ink.strokeStyle = colours.ink
  ink.lineWidth = 1.5
  ink.moveTo(0, y(value))
  let column = -1
  let least = 0
  let most = 0
  const flush = () => {
    if (column < 0) return
    ink.lineTo(column, y(most))
    ink.lineTo(column, y(least))
    ink.lineTo(column, y(value))
  }
  for (let n = first + 1; n < strip.frames.length; n++) {
    const frame = strip.frames[n] ?? 0
    if (frame > at.to) break
    const here = Math.round(x(frame))
    if (here !== column) {
      flush()
      ink.lineTo(here, y(value))
      column = here
      least = most = value
    }
    value = strip.values[n] ?? 0
    least = Math.min(least, value)
    most = Math.max(most, value)
  }
  flush()
  ink.lineTo(Math.min(at.width, x(at.to)), y(value))
  ink.stroke()
}

/** Positions and steps are boxes with their names. */
function drawNames(
  ink: CanvasRenderingContext2D,
  strip: Strip,
  first: number,
  value: number,
  top: number,
  at: Window,
  x: (frame: number) => number,
  colours: Ink,
) {
  const high = top + gap - 2
  const tall = at.row - 2 * gap + 4
  let left = 0
  const box = (right: number) => {
    if (right - left < 1) return
    ink.fillStyle = value === 0 ? 'transparent' : colours.deck
    ink.fillRect(left, high, right - left, tall)
    ink.strokeRect(left, high, right - left, tall)
    const name = strip.names[value] ?? ''
    if (right - left > 18 + 7 * Math.min(name.length, 3)) {
      ink.save()
      ink.beginPath()
      ink.rect(left, high, right - left - 3, tall)
      ink.clip()
      ink.fillStyle = colours.ink
      ink.fillText(name, left + 6, high + tall / 2 + 5)
      ink.restore()
    }
  }
  ink.strokeStyle = colours.ink
  ink.lineWidth = 1.2
  for (let n = first + 1; n < strip.frames.length; n++) {
    const frame = strip.frames[n] ?? 0
    if (frame > at.to) break
    const right = Math.round(x(frame))
    box(right)
    if (right - left >= 1) left = right
    value = strip.values[n] ?? 0
  }
  box(Math.min(at.width, x(at.to)))
}

/** The frame of a strip's change that is nearest to another one, within some frames; undefined for none. */
export function nearestEdge(strip: Strip, frame: number, within: number): number | undefined {
  const n = place(strip.frames, frame)
  const before = strip.frames[n]
  const after = strip.frames[n + 1]
  const best =
    before !== undefined && (after === undefined || frame - before <= after - frame) ? before : after
  return best !== undefined && Math.abs(best - frame) <= within ? best : undefined
}
