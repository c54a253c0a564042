import { useLocalStorage } from '../composables/useLocalStorage'

/** Whether the docked stage is folded away; kept per person. */
export function useStageFold() {
  return { folded: useLocalStorage('axtren-stage-folded') }
}
