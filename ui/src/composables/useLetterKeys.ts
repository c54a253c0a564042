import { useStorage } from '@vueuse/core'
import { computed } from 'vue'

const kept = useStorage<'on' | 'off'>('axtren-letter-keys', 'on')

/** Whether single letters are keys of the page; a person who speaks to the machine turns them off. */
const letterKeys = computed({
  get: () => kept.value !== 'off',
  set: (on) => (kept.value = on ? 'on' : 'off'),
})

export function useLetterKeys() {
  return letterKeys
}
