import { shallowRef, watch } from 'vue'

const key = 'axtren-letter-keys'

function read(): boolean {
  try {
    return localStorage.getItem(key) !== 'off'
  } catch {
    return true
  }
}

/** Whether single letters are keys of the page; a person who speaks to the machine turns them off. */
const on = shallowRef(read())
watch(on, (now) => {
  try {
    localStorage.setItem(key, now ? 'on' : 'off')
  } catch {
    // not kept: it is on again next time
  }
})

export function useLetterKeys() {
  return on
}
