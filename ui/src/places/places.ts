import type { Component } from 'vue'

import type { Model } from '../api/client'

/** A place of a model: its address, what the rail says of it, and whether the deck is open there at first. */
export interface Place {
  name: string
  title: string
  says: (model?: Model) => string
  deck: boolean
  view: () => Promise<{ default: Component }>
}

const lines = (m?: Model) =>
  m ? (m.undriven ? `${m.lines}, ${m.undriven} not driven` : `${m.lines} lines`) : ''

/**
 * The places of a model, in the order of the rail. On the sheet and in the text the hands hold something
 * else.
 */
export const places: Place[] = [
  { name: 'lines', title: 'Lines', says: lines, deck: true, view: () => import('./LinesPlace.vue') },
  {
    name: 'mixing',
    title: 'Mixing',
    says: () => 'two that belong together',
    deck: true,
    view: () => import('./MixingPlace.vue'),
  },
  {
    name: 'stage',
    title: 'Stage',
    says: () => 'see it move',
    deck: true,
    view: () => import('./StagePlace.vue'),
  },
  {
    name: 'sheet',
    title: 'Sheet',
    says: () => 'to carry to the bench',
    deck: false,
    view: () => import('./SheetPlace.vue'),
  },
  {
    name: 'text',
    title: 'Text',
    says: () => 'and what changed',
    deck: false,
    view: () => import('./TextPlace.vue'),
  },
]
