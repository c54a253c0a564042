import { useResizeObserver } from '@vueuse/core'
import { nextTick, shallowRef, watch, type Ref } from 'vue'

/**
 * How tightly something is packed, from 0 to most: the least at which its content is no wider than it is.
 * It is found again when the width or what is there changes; packed is called when it is found.
 */
export function useTight(
  box: Ref<HTMLElement | null>,
  most: number,
  what: () => unknown,
  packed?: () => void,
) {
  const tight = shallowRef(0)
  let at = 0

  async function fit() {
    const turn = ++at
    for (let next = 0; next <= most; next++) {
      tight.value = next
      await nextTick()
      if (turn !== at || !box.value) return
      if (box.value.scrollWidth <= box.value.clientWidth) break
    }
    packed?.()
  }

  let width = 0
  useResizeObserver(box, ([entry]) => {
    const now = Math.round(entry?.contentRect.width ?? 0)
    if (now === width) return
    width = now
    void fit()
  })
  watch(what, fit, { flush: 'post' })
  return tight
}
