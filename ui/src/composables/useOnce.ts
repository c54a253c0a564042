/**
 * Acts that make something: a double click makes one, and while one is on its way no second is begun. The
 * second click of a double click is known by its count, however fast the first was answered.
 */
export function useOnce() {
  let busy = false

  async function once(event: Event | undefined, act: () => Promise<unknown>) {
    if (busy || (event instanceof MouseEvent && event.detail > 1)) return
    busy = true
    try {
      await act()
    } finally {
      busy = false
    }
  }

  return { once }
}
