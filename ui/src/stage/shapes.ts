/**
 * How each part is drawn: its outline, and the thinner lines by which one knows it. A part lies about its
 * middle, or begins at its hinge; it points up the page seen from above and to the right from the side.
 */
import type { Piece } from '../api/client'
import { above, fit, side, type Hull as Drawing } from './hulls'

/** Parts that begin at their hinge; the others are drawn about their middle. */
const hinged = ['rudder', 'boom', 'ramp', 'door', 'leg', 'monitor', 'bucket', 'plane', 'mast']

const box = (x: number, y: number, w: number, h: number, r = 0) =>
  `M${x + r} ${y} h${w - 2 * r} q${r} 0 ${r} ${r} v${h - 2 * r} q0 ${r} ${-r} ${r} h${2 * r - w} ` +
  `q${-r} 0 ${-r} ${-r} v${2 * r - h} q0 ${-r} ${r} ${-r}z`

const ring = (x: number, y: number, r: number) =>
  `M${x - r} ${y} a${r} ${r} 0 1 0 ${2 * r} 0 a${r} ${r} 0 1 0 ${-2 * r} 0`

/** What is round looks so whatever its size: a funnel, a tank, a wheel that only rolls. */
const round = (length: number): Drawing => ({
  outline: ring(0, 0, length / 2),
  thin: ring(0, 0, length * 0.3),
})

/** A track seen from the side: its rollers, with the wheels at its ends. */
function tracks(length: number, width: number): Drawing {
  const n = Math.max(3, Math.round(length / width))
  const [first, step] = [(width - length) / 2, (length - width) / (n - 1)]
  const rollers = Array.from({ length: n }, (_, i) =>
    ring(first + i * step, 0, width * (i === 0 || i === n - 1 ? 0.34 : 0.2)),
  )
  return { outline: box(-length / 2, -width / 2, length, width, width / 2), thin: rollers.join(' ') }
}

function hull(shape: string, fromSide: boolean, length: number, width: number): Drawing {
  if (shape === 'round') return round(length)
  if (shape === 'tracks' && fromSide) return tracks(length, width)
  const [wide, high] = fromSide ? [length, width] : [width, length]
  const one = (fromSide ? side : above)[shape]
  if (one) return { outline: fit(one.outline, wide, high), thin: fit(one.thin, wide, high) }
  return { outline: box(-wide / 2, -high / 2, wide, high, Math.min(wide, high) * 0.05), thin: '' }
}

/** A lattice between two lines that run together. */
function lattice(length: number, from: number, to: number): string {
  const n = Math.max(2, Math.round(length / Math.max(from, 1)))
  const y = (k: number) => from + ((to - from) * k) / n
  return Array.from({ length: n }, (_, k) => {
    const up = k % 2 === 0
    return `M${(length * k) / n} ${up ? y(k) / 2 : -y(k) / 2} L${(length * (k + 1)) / n}
      ${up ? -y(k + 1) / 2 : y(k + 1) / 2}`
  }).join(' ')
}

/** Parts other than hulls, from the side: along x from the hinge or about the middle. */
function partFromSide(part: string, length: number, width: number): Drawing {
  switch (part) {
    case 'leg':
      return {
        outline: `M${-width / 2} 0 h${width} v${length} h${-width}z`,
        thin: `M${-width} ${length} h${2 * width}`,
      }
    case 'boom':
      return {
        outline: `M0 ${-width / 2} L${length} ${-width / 4} v${width / 2} L0 ${width / 2}z`,
        thin: lattice(length, width, width / 2),
      }
    case 'bucket':
      return {
        outline:
          `M0 ${-width * 0.3} L${length * 0.3} ${-width * 0.5} Q${length} ${-width * 0.5} ${length}
            ${width * 0.2} ` +
          `L${length * 0.92} ${width * 0.5} L${length * 0.2} ${width * 0.4} L0 ${width * 0.2}z`,
        thin: `M${length * 0.28} ${-width * 0.3} Q${length * 0.8} ${-width * 0.3} ${length * 0.82}
          ${width * 0.3}`,
      }
    case 'plane':
    case 'rudder':
      return {
        outline: `M${length * 0.35} 0 Q${length * 0.3} ${-width / 2} 0 ${-width / 2}
          L${-length * 0.65} 0 L0 ${width / 2} Q${length * 0.3} ${width / 2} ${length * 0.35} 0z`,
        thin: ring(0, 0, width * 0.15),
      }
    case 'ramp':
    case 'door':
      return {
        outline: `M0 ${-width / 2} h${length} v${width} h${-length}z`,
        thin: [0.25, 0.5, 0.75].map((k) => `M${length * k} ${-width / 2} v${width}`).join(' '),
      }
    case 'mast':
      return {
        outline: `M${-width / 2} 0 v${-length} h${width} v${length}z`,
        thin: `M${-width * 1.2} ${-length * 0.8} h${width * 2.4}`,
      }
    case 'trolley':
      return {
        outline: `M${-length / 2} ${-width / 2} h${length} v${width} h${-length}z`,
        thin: `${ring(-length * 0.28, -width / 2, width * 0.25)}
          ${ring(length * 0.28, -width / 2, width * 0.25)}`,
      }
    case 'hook':
      return {
        outline: `M${-length / 2} 0 h${length} v${width * 0.45} h${-length}z`,
        thin: `M0 ${width * 0.45} v${width * 0.3} a${width * 0.28} ${width * 0.28} 0 1 1
          ${-width * 0.3} ${width * 0.2}`,
      }
    case 'magnet':
      return {
        outline: `M${-length / 2} ${width * 0.5} L${-length * 0.3} ${-width / 2} H${length * 0.3}
          L${length / 2} ${width * 0.5}z`,
        thin: `M${-length * 0.2} ${width * 0.5} V${width * 0.1} M${length * 0.2} ${width * 0.5}
          V${width * 0.1}`,
      }
    case 'monitor':
      return {
        outline: `M0 ${-width / 2} L${length} ${-width / 4} v${width / 2} L0 ${width / 2}z`,
        thin: ring(0, 0, width * 0.8),
      }
  }
  if (hinged.includes(part))
    return { outline: `M0 ${-width / 2} h${length} v${width} h${-length}z`, thin: '' }
  return { outline: `M${-length / 2} ${-width / 2} h${length} v${width} h${-length}z`, thin: '' }
}

/** Parts other than hulls, from above: up the page from the hinge or about the middle. */
function partFromAbove(part: string, length: number, width: number): Drawing {
  switch (part) {
    case 'rudder':
    case 'plane':
      return {
        outline: `M${-width / 2} 0 Q${-width / 2} ${length * 0.18} 0 ${length * 0.18} Q${width / 2}
          ${length * 0.18} ${width / 2} 0 L${width * 0.18} ${-length} H${-width * 0.18}z`,
        thin: ring(0, 0, width * 0.2),
      }
    case 'monitor':
      return {
        outline: `${ring(0, 0, width * 0.9)} M${-width * 0.4} ${-width * 0.6} L${-width * 0.28}
          ${-length} H${width * 0.28} L${width * 0.4} ${-width * 0.6}z`,
        thin: ring(0, 0, width * 0.4),
      }
    case 'boom':
      return {
        outline: `M${-width / 2} 0 L${-width / 3} ${-length} H${width / 3} L${width / 2} 0z`,
        thin: `M0 ${-length * 0.08} V${-length * 0.92} ${ring(0, 0, width * 0.25)}`,
      }
    case 'bucket':
      return {
        outline: `M${-width / 2} 0 V${-length} H${width / 2} V0z`,
        thin: [-0.4, -0.2, 0, 0.2, 0.4]
          .map(
            (x) => `M${x * width} ${-length}
          v${-length * 0.12}`,
          )
          .join(' '),
      }
    case 'blade':
      return {
        outline: `M${-width / 2} ${length / 2} Q0 ${-length * 0.1} ${width / 2} ${length / 2}
          L${width / 2} ${-length / 2} Q0 ${-length * 0.9} ${-width / 2} ${-length / 2}z`,
        thin: `M${-width / 2} ${-length * 0.2} Q0 ${-length * 0.62} ${width / 2} ${-length * 0.2}`,
      }
    case 'drum':
      return {
        outline: box(-width / 2, -length / 2, width, length, Math.min(width, length) * 0.08),
        thin: `M${-width * 0.42} ${-length / 2} V${length / 2} M${width * 0.42} ${-length / 2}
          V${length / 2}`,
      }
    case 'turret':
      return { outline: ring(0, 0, length / 2), thin: `M0 0 V${-length / 2}` }
    case 'track':
      return { outline: box(-width / 2, -length / 2, width, length, width * 0.3), thin: '' }
  }
  if (hinged.includes(part))
    return { outline: `M${-width / 2} 0 h${width} v${-length} h${-width}z`, thin: '' }
  return { outline: `M${-width / 2} ${-length / 2} h${width} v${length} h${-width}z`, thin: '' }
}

/** The drawing of a part in a picture seen from the side or from above. */
export function drawing(piece: Piece, fromSide: boolean): Drawing {
  const { part, length, width } = piece
  if (part === 'hull') return hull(piece.shape, fromSide, length, width)
  return fromSide ? partFromSide(part, length, width) : partFromAbove(part, length, width)
}
