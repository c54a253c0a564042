import { graphlib, layout } from '@dagrejs/dagre'

import type { Schemas } from '../api/client'

type States = Schemas['RuleStates']

/** Where a state is drawn: its middle and its size. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
  lines: string[]
}
/** How a way between states is drawn, and where its words stand. */
export interface Way {
  path: string
  x: number
  y: number
  by: string[]
  from: number
  to: number
  width: number
  height: number
}
export interface Laid {
  width: number
  height: number
  boxes: Box[]
  ways: Way[]
}

const letter = 7.6
const lineHeight = 18
/** So many ways are said at an arrow; all of them stand in the list below. */
const mostSaid = 2

/** Text in lines of some letters. */
export function lines(text: string, most: number): string[] {
  const all: string[] = []
  for (const word of text.split(' ')) {
    const last = all.at(-1)
    if (last !== undefined && `${last} ${word}`.length <= most) all[all.length - 1] = `${last} ${word}`
    else all.push(word)
  }
  return all.map((line) => (line.length > most ? `${line.slice(0, most - 1)}…` : line))
}

/** What is said at an arrow. */
export function said(by: string[]): string[] {
  const short = by.length > mostSaid ? [...by.slice(0, mostSaid), `and ${by.length - mostSaid} more`] : by
  return short.flatMap((one) => lines(one, 22).slice(0, 3))
}

const size = (text: string[]) => ({
  width: Math.max(...text.map((line) => line.length)) * letter,
  height: text.length * lineHeight,
})

/** Lays the states of a rule out, from left to right, or from the top down where there is little room. */
export function laid(states: States, down: boolean): Laid {
  const graph = new graphlib.Graph({ multigraph: true })
  graph.setGraph({
    rankdir: down ? 'TB' : 'LR',
    nodesep: 26,
    ranksep: down ? 30 : 26,
    edgesep: 14,
    marginx: 8,
    marginy: 8,
  })
  const texts = states.nodes.map((node) => [
    ...lines(node.label, 20).slice(0, 3),
    ...(node.soon ? lines(node.soon, 20).slice(0, 2) : []),
  ])
  states.nodes.forEach((node, i) => {
    const text = size(texts[i] ?? [])
    graph.setNode(String(i), { width: Math.max(78, text.width + 30), height: text.height + 18 })
    if (node.wakes) {
      graph.setNode(`w${i}`, { width: 44, height: 16 })
      graph.setEdge(`w${i}`, String(i), { weight: 8, minlen: 1 })
    }
  })
  states.edges.forEach((edge, i) => {
    const text = size(said(edge.by))
    graph.setEdge(
      String(edge.from),
      String(edge.to),
      { width: text.width + 8, height: text.height + 4, labelpos: 'c' },
      String(i),
    )
  })
  layout(graph)
  const at = graph.graph()
  return {
    width: at.width ?? 0,
    height: at.height ?? 0,
    boxes: states.nodes.map((_, i) => {
      const node = graph.node(String(i))
      return { x: node.x ?? 0, y: node.y ?? 0, width: node.width, height: node.height, lines: texts[i] ?? [] }
    }),
    ways: [
      ...states.edges.map((edge, i) => {
        const own = graph.edge(String(edge.from), String(edge.to), String(i))
        return {
          ...drawn(own.points ?? []),
          x: own.x ?? 0,
          y: own.y ?? 0,
          by: said(edge.by),
          from: edge.from,
          to: edge.to,
          width: own.width ?? 0,
          height: own.height ?? 0,
        }
      }),
      ...states.nodes.flatMap((node, i) => {
        if (!node.wakes) return []
        const from = graph.node(`w${i}`)
        const own = graph.edge(`w${i}`, String(i))
        return [
          {
            ...drawn(own.points ?? []),
            x: from.x ?? 0,
            y: (from.y ?? 0) - 4,
            by: ['wakes'],
            from: -1,
            to: i,
            width: 0,
            height: 0,
          },
        ]
      }),
    ],
  }
}

/** A smooth line through points. */
function drawn(points: { x: number; y: number }[]) {
  const at = (p?: { x: number; y: number }) => `${p?.x.toFixed(1)} ${p?.y.toFixed(1)}`
  let path = `M ${at(points[0])}`
  for (let i = 1; i < points.length - 1; i++) {
    const here = points[i]
    const next = points[i + 1]
    if (!here || !next) continue
    const last = i === points.length - 2
    path += ` Q ${at(here)} ${last ? at(next) : at({ x: (here.x + next.x) / 2, y: (here.y + next.y) / 2 })}`
  }
  if (points.length === 2) path += ` L ${at(points[1])}`
  return { path }
}
