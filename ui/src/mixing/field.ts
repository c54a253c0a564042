/** A field as the contract sends it: a byte for each point, the top left first. */
export const side = 101

export function bytes(base64: string): Uint8Array {
  return Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))
}

/** What a point of the square holds, percent; x to the right and y up, -100 to 100. */
export function at(field: Uint8Array, x: number, y: number): number {
  const col = Math.round(((x + 100) * (side - 1)) / 200)
  const row = Math.round(((100 - y) * (side - 1)) / 200)
  return (field[row * side + col] ?? 100) - 100
}

type Ink = [red: number, green: number, blue: number]

/**
 * Paints a field: bands of ten, darker for more; ahead in the one colour, back in the other, hatched where
 * more is asked for than there is, a line where nothing is.
 */
export function paint(
  canvas: HTMLCanvasElement,
  field: Uint8Array,
  cut: Uint8Array,
  bit: number,
  inks: { ground: Ink; ahead: Ink; back: Ink; line: Ink },
) {
  const zoom = 3
  canvas.width = canvas.height = side * zoom
  const context = canvas.getContext('2d')
  if (!context) return
  const image = context.createImageData(side * zoom, side * zoom)
  for (let py = 0; py < side * zoom; py++) {
    for (let px = 0; px < side * zoom; px++) {
      const k = Math.floor(py / zoom) * side + Math.floor(px / zoom)
      const v = (field[k] ?? 100) - 100
      const share = (Math.ceil(Math.abs(v) / 10) / 10) * 0.62
      let ink = mixed(inks.ground, v < 0 ? inks.back : inks.ahead, share)
      if (((cut[k] ?? 0) & bit) !== 0 && (px + py) % 9 < 2) ink = inks.line
      image.data.set([...ink, 255], (py * side * zoom + px) * 4)
    }
  }
  context.putImageData(image, 0, 0)
}

function mixed(from: Ink, to: Ink, share: number): Ink {
  return [0, 1, 2].map((i) => Math.round(from[i]! + (to[i]! - from[i]!) * share)) as Ink
}
