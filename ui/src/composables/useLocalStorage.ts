import { shallowRef, watch, type Ref } from 'vue'

/** A yes or no that this browser keeps; no at first, or where nothing can be kept. */
export function useLocalStorage(key: string): Ref<boolean> {
  const kept = shallowRef(read(key))
  watch(kept, (now) => write(key, now))
  return kept
}

function read(key: string): boolean {
  try {
    return localStorage.getItem(key) === 'yes'
  } catch {
    return false
  }
}

function write(key: string, now: boolean) {
  try {
    localStorage.setItem(key, now ? 'yes' : 'no')
  } catch {
    // not kept: it is asked anew next time
  }
}
