import { useEventListener } from '@vueuse/core'
import { onScopeDispose, shallowRef } from 'vue'

/**
 * One finger, or the mouse, holds one thing, from when it comes down on it until that same pointer lets go,
 * is cancelled, loses its capture, or the page loses the focus. Other pointers are not heard meanwhile.
 */
export function useHold(letGo: () => void) {
  const pointer = shallowRef<number>()

  function take(event: PointerEvent): boolean {
    if (pointer.value !== undefined || event.button > 0) return false
    pointer.value = event.pointerId
    ;(event.currentTarget as Element).setPointerCapture?.(event.pointerId)
    return true
  }

  const holds = (event: PointerEvent) => pointer.value === event.pointerId

  function release(event?: PointerEvent) {
    if (pointer.value === undefined || (event && !holds(event))) return
    pointer.value = undefined
    letGo()
  }

  useEventListener('blur', () => release())
  onScopeDispose(() => release())
  return { held: pointer, take, holds, release }
}
