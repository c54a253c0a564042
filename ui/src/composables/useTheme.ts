import { shallowRef, watchEffect } from 'vue'

/** Daylight or lamp, for this person on this machine. */
const lamp = shallowRef(localStorage.getItem('axtren-theme') === 'lamp')

watchEffect(() => {
  document.documentElement.classList.toggle('lamp', lamp.value)
  localStorage.setItem('axtren-theme', lamp.value ? 'lamp' : 'daylight')
})

/** The theme, and how to turn it. */
export function useTheme() {
  return { lamp, turn: () => (lamp.value = !lamp.value) }
}
