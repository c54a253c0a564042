import { useStorage } from '@vueuse/core'

/** Whether the docked stage is folded away; kept per person. */
export function useStageFold() {
  return { folded: useStorage('axtren-stage-folded', false) }
}
