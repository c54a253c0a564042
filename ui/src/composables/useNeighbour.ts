import { nextTick } from 'vue'

/**
 * Where the focus goes when a part is removed: to what stands after it in the place, or before it, never to
 * nowhere. Asked before, done after.
 */
export function neighbourOf(part: string): () => Promise<void> {
  const rows = [...document.querySelectorAll<HTMLElement>('main [data-behind], main [data-line]')]
  const isOwn = (row: HTMLElement) => row.dataset.behind === part || `outputs/${row.dataset.line}` === part
  const block = document.querySelector('main .block')
  const left = rows.filter((row) => isOwn(row) || !block?.contains(row))
  const own = left.findIndex(isOwn)
  const after = left.slice(own + 1).find((row) => !isOwn(row))
  // what has no row of its own lives in an open function
  const next = own < 0 ? block?.querySelector('header') : (after ?? left.slice(0, own).at(-1))

  return async () => {
    await nextTick()
    const target = next?.isConnected && (next.matches('button, a') ? next : next.querySelector('button, a'))
    const to = target || document.querySelector('main')
    if (to instanceof HTMLElement) to.focus()
  }
}
