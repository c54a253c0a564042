import { useStorage } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

/** Daylight or lamp, for this person on this machine. */
const theme = useStorage<'daylight' | 'lamp'>('axtren-theme', 'daylight')
const lamp = computed(() => theme.value === 'lamp')

watchEffect(() => document.documentElement.classList.toggle('lamp', lamp.value))

/** The theme, and how to turn it. */
export function useTheme() {
  return { lamp, turn: () => (theme.value = lamp.value ? 'daylight' : 'lamp') }
}
