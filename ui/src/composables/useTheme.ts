import { usePreferredDark, useStorage } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

/** Light or dark, for this person on this machine; what the machine prefers until they have chosen. */
const theme = useStorage<'own' | 'daylight' | 'lamp'>('axtren-theme', 'own')
const preferred = usePreferredDark()
const dark = computed(() => (theme.value === 'own' ? preferred.value : theme.value === 'lamp'))

watchEffect(() => document.documentElement.classList.toggle('lamp', dark.value))

/** The theme, and how to turn it. */
export function useTheme() {
  return { dark, turn: () => (theme.value = dark.value ? 'daylight' : 'lamp') }
}
