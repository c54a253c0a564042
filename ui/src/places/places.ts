import type { Component } from 'vue'

/** A place of a model: its address, its name until the server says it, and whether the deck is open. */
export interface Place {
  name: string
  title: string
  deck: boolean
  view: () => Promise<{ default: Component }>
}

/** The places of a model, as in the rail. Where the hands hold something else the deck is folded. */
export const places: Place[] = [
  { name: 'kit', title: 'Kit', deck: true, view: () => import('./KitPlace.vue') },
  { name: 'functions', title: 'Functions', deck: true, view: () => import('./FunctionsPlace.vue') },
  { name: 'mixing', title: 'Mixing', deck: true, view: () => import('./MixingPlace.vue') },
  { name: 'rules', title: 'Rules', deck: true, view: () => import('./RulesPlace.vue') },
  { name: 'loss', title: 'Loss and start', deck: true, view: () => import('./LossPlace.vue') },
  { name: 'stage', title: 'Stage', deck: true, view: () => import('./StagePlace.vue') },
  { name: 'sheet', title: 'Sheet', deck: false, view: () => import('./SheetPlace.vue') },
  { name: 'log', title: 'Log', deck: false, view: () => import('./LogPlace.vue') },
]
