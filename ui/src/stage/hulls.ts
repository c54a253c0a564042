/**
 * The hulls, drawn in a square of 1 by 1 about its middle: seen from above the bow is at y = -0.5, from the
 * side at x = 0.5 and up is -y. The first path is the outline, the second the thinner lines by which one
 * knows it. They are made of M, L, H, V, C, Q and z, all from the middle.
 */
export interface Hull {
  outline: string
  thin: string
}

const rows = (places: number[], from: number, to: number) =>
  places.map((y) => `M${from} ${y} H${to}`).join(' ')

const boat: Hull = {
  outline: `M0 -0.5 C0.3 -0.4 0.5 -0.22 0.5 -0.02 L0.47 0.4 C0.46 0.47 0.4 0.5 0.3 0.5
    L-0.3 0.5 C-0.4 0.5 -0.46 0.47 -0.47 0.4 L-0.5 -0.02 C-0.5 -0.22 -0.3 -0.4 0 -0.5 z`,
  thin: `M0 -0.43 C0.26 -0.34 0.43 -0.19 0.43 -0.02 L0.41 0.36 C0.4 0.42 0.35 0.45 0.26 0.45
    L-0.26 0.45 C-0.35 0.45 -0.4 0.42 -0.41 0.36 L-0.43 -0.02 C-0.43 -0.19 -0.26 -0.34 0 -0.43 z`,
}

export const above: Record<string, Hull> = {
  boat,
  submarine: boat,
  amphibian: boat,
  car: {
    outline: `M-0.3 -0.5 Q0 -0.53 0.3 -0.5 Q0.46 -0.48 0.47 -0.36 L0.5 0.1 L0.48 0.4 Q0.47 0.5 0.3 0.5
      L-0.3 0.5 Q-0.47 0.5 -0.48 0.4 L-0.5 0.1 L-0.47 -0.36 Q-0.46 -0.48 -0.3 -0.5 z`,
    // windscreen, rear window, roof, bonnet, wing
    thin: `M-0.4 -0.14 Q0 -0.22 0.4 -0.14 L0.32 -0.02 Q0 -0.07 -0.32 -0.02 z
      M-0.34 0.22 L-0.4 0.32 Q0 0.37 0.4 0.32 L0.34 0.22 Q0 0.25 -0.34 0.22
      M-0.32 -0.02 L-0.34 0.22 M0.32 -0.02 L0.34 0.22
      M-0.24 -0.47 L-0.3 -0.2 M0.24 -0.47 L0.3 -0.2
      M-0.34 0.42 H0.34 V0.465 H-0.34 z`,
  },
  truck: {
    outline: `M-0.33 -0.5 H0.33 Q0.47 -0.5 0.47 -0.46 V-0.26 Q0.47 -0.22 0.33 -0.22
      H-0.33 Q-0.47 -0.22 -0.47 -0.26 V-0.46 Q-0.47 -0.5 -0.33 -0.5 z
      M-0.5 -0.19 H0.5 V0.5 H-0.5 z`,
    thin: `M-0.38 -0.4 Q0 -0.45 0.38 -0.4 L0.34 -0.33 Q0 -0.37 -0.34 -0.33 z
      ${rows([-0.1, 0, 0.1, 0.2, 0.3, 0.4], -0.46, 0.46)}`,
  },
  cab: {
    outline: `M-0.34 -0.5 H0.34 Q0.5 -0.5 0.5 -0.34 V0.34 Q0.5 0.5 0.34 0.5
      H-0.34 Q-0.5 0.5 -0.5 0.34 V-0.34 Q-0.5 -0.5 -0.34 -0.5 z`,
    thin: `M-0.4 -0.2 Q0 -0.42 0.4 -0.2 L0.34 0.02 Q0 -0.14 -0.34 0.02 z M-0.34 0.3 H0.34`,
  },
  bed: {
    outline: 'M-0.5 -0.5 H0.5 V0.5 H-0.5 z',
    thin: rows([-0.3, -0.15, 0, 0.15, 0.3], -0.46, 0.46),
  },
  tracked: {
    outline: 'M-0.36 -0.5 H0.36 L0.5 -0.4 V0.44 L0.42 0.5 H-0.42 L-0.5 0.44 V-0.4 z',
    // windscreen, cab, grille
    thin: `M-0.38 -0.32 Q0 -0.4 0.38 -0.32 L0.32 -0.22 Q0 -0.28 -0.32 -0.22 z
      M-0.38 -0.22 H0.38 V0.12 H-0.38 z ${rows([0.3, 0.35, 0.4], -0.3, 0.3)}`,
  },
  house: {
    outline: `M-0.36 -0.5 H0.36 Q0.5 -0.5 0.5 -0.38 V0.38 Q0.5 0.5 0.36 0.5
      H-0.36 Q-0.5 0.5 -0.5 0.38 V-0.38 Q-0.5 -0.5 -0.36 -0.5 z`,
    thin: `M-0.36 -0.22 Q0 -0.46 0.36 -0.22 Q0 -0.3 -0.36 -0.22 z
      M-0.34 0.04 H-0.14 V0.2 H-0.34 z M0.14 0.04 H0.34 V0.2 H0.14 z`,
  },
}

const afloat: Hull = {
  outline: `M0.5 -0.5 L0.38 0.3 Q0.36 0.5 0.28 0.5 L-0.46 0.5 Q-0.5 0.5 -0.5 0.4 L-0.48 -0.42 L-0.3 -0.42
    L-0.29 -0.9 Q-0.28 -1.1 -0.22 -1.1 L-0.06 -1.1 Q-0.02 -1.1 0 -0.9 L0.03 -0.42 L0.3 -0.5 z`,
  thin: 'M-0.48 -0.1 L0.44 -0.1 M-0.25 -0.5 V-0.95 L-0.07 -0.95 L-0.03 -0.5 z',
}

export const side: Record<string, Hull> = {
  amphibian: afloat,
  boat: afloat,
  submarine: {
    outline: `M0.5 0.02 C0.5 -0.3 0.38 -0.42 0.24 -0.44 L0.16 -0.45
      L0.13 -0.92 Q0.12 -1 0.08 -1 L-0.04 -1 Q-0.08 -1 -0.09 -0.92
      L-0.12 -0.45 L-0.22 -0.42 C-0.36 -0.36 -0.44 -0.16 -0.5 -0.04
      L-0.5 0.1 C-0.4 0.36 -0.26 0.48 -0.1 0.5 L0.24 0.5 C0.4 0.48 0.5 0.3 0.5 0.02 z`,
    thin: 'M-0.49 0.12 L0.49 0.12 M-0.07 -0.8 L0.11 -0.8 M0.3 -0.3 C0.38 -0.24 0.42 -0.14 0.43 0',
  },
  house: {
    outline: `M-0.5 0.5 L-0.5 -0.1 Q-0.5 -0.26 -0.42 -0.26 L-0.02 -0.26
      L0.02 -0.5 L0.4 -0.5 L0.5 0.1 L0.5 0.5 z`,
    thin: `M0.08 -0.4 L0.36 -0.4 L0.43 0.08 L0.06 0.08 z M-0.5 0.36 H0.5
      M-0.42 -0.08 V0.28 M-0.34 -0.08 V0.28 M-0.26 -0.08 V0.28`,
  },
  cab: {
    outline: `M-0.4 -0.5 H0.4 Q0.5 -0.5 0.5 -0.4 V0.5 H-0.5 V-0.4 Q-0.5 -0.5 -0.4 -0.5 z`,
    thin: 'M0.02 -0.36 H0.4 V0.08 H0.02 z',
  },
  portal: {
    outline: 'M-0.36 -0.5 H0.36 L0.5 0.5 H0.3 L0.22 -0.34 H-0.22 L-0.3 0.5 H-0.5 z',
    thin: 'M-0.3 -0.25 L0.3 0 M0.3 0 L-0.3 0.25 M-0.3 0.25 L0.3 0.5',
  },
  tower: {
    outline: 'M-0.5 -0.5 H0.5 V0.5 H-0.5 z',
    thin: [-0.5, -0.25, 0, 0.25]
      .map((y) => `M-0.5 ${y} L0.5 ${y + 0.25} M0.5 ${y} L-0.5 ${y + 0.25}`)
      .join(' '),
  },
}

/** A path of the square, as wide and as high as its hull. */
export function fit(path: string, wide: number, high: number): string {
  return path.replace(/([A-Za-z])([^A-Za-z]*)/g, (_, command: string, rest: string) => {
    const figures = rest.trim().split(/\s+/).filter(Boolean).map(Number)
    const scaled = figures.map((v, i) => {
      const across = command === 'H' || (command !== 'V' && i % 2 === 0)
      return Math.round(v * (across ? wide : high) * 100) / 100
    })
    return command + scaled.join(' ')
  })
}
