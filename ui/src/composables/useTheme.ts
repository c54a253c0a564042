import { useStorage } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

/** Light or dark, for this person on this machine. */
const theme = useStorage<'daylight' | 'lamp'>('axtren-theme', 'daylight')
const dark = computed(() => theme.value === 'lamp')

watchEffect(() => document.documentElement.classList.toggle('lamp', dark.value))

/** The theme, and how to turn it. */
export function useTheme() {
  return { dark, turn: () => (theme.value = dark.value ? 'daylight' : 'lamp') }
}
