import type { Component } from 'vue'

/**
 * A place of a model: its address, its name until the server says it, and whether the deck is open at first,
 * on a wide page and on a phone.
 */
export interface Place {
  name: string
  title: string
  deck: boolean
  phoneDeck: boolean
  view: () => Promise<{ default: Component }>
}

/** The places of a model, as in the rail. Where the hands hold something else the deck is folded. */
export const places: Place[] = [
  { name: 'kit', title: 'Kit', deck: true, phoneDeck: false, view: () => import('./KitPlace.vue') },
  { name: 'plan', title: 'Plan', deck: false, phoneDeck: false, view: () => import('./PlanPlace.vue') },
  {
    name: 'functions',
    title: 'Functions',
    deck: true,
    phoneDeck: true,
    view: () => import('./FunctionsPlace.vue'),
  },
  { name: 'mixing', title: 'Mixing', deck: true, phoneDeck: true, view: () => import('./MixingPlace.vue') },
  { name: 'rules', title: 'Rules', deck: true, phoneDeck: true, view: () => import('./RulesPlace.vue') },
  {
    name: 'loss',
    title: 'Loss and start',
    deck: true,
    phoneDeck: false,
    view: () => import('./LossPlace.vue'),
  },
  { name: 'stage', title: 'Stage', deck: true, phoneDeck: true, view: () => import('./StagePlace.vue') },
  { name: 'sheet', title: 'Sheet', deck: false, phoneDeck: false, view: () => import('./SheetPlace.vue') },
  { name: 'bench', title: 'Bench', deck: true, phoneDeck: false, view: () => import('./BenchPlace.vue') },
  { name: 'log', title: 'Log', deck: false, phoneDeck: false, view: () => import('./LogPlace.vue') },
]
