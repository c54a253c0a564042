import { defineStore } from 'pinia'
import { ref } from 'vue'

/** Something that a person has to be told wherever they are, until they close it. */
export interface Notice {
  key: number
  words: string
  /** Where it leads, if anywhere. */
  to?: { path: string; words: string }
}

/** No more than this many are kept: what comes again and again would cover the page. */
const most = 5

export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([])
  let next = 1

  function say(words: string, to?: Notice['to']) {
    list.value = [...list.value.filter((n) => n.words !== words), { key: next++, words, to }].slice(-most)
  }

  function close(key: number) {
    list.value = list.value.filter((n) => n.key !== key)
  }

  return { list, say, close }
})
