/** What was typed and not kept, with the revision that it was typed on. */
export interface Draft {
  text: string
  revision: number
  at: number
}

const prefix = 'axtren-draft-'
/** Drafts of no more models than this are kept; the oldest goes. */
const most = 5

/** The draft of a model's text, in this browser. Where nothing can be kept there is none. */
export function useDrafts(model: () => string) {
  const key = () => prefix + model()

  function find(): Draft | undefined {
    return read(key())
  }

  function keep(draft: Draft) {
    try {
      const others = Object.keys(localStorage).filter((k) => k.startsWith(prefix) && k !== key())
      others.sort((a, b) => (read(b)?.at ?? 0) - (read(a)?.at ?? 0))
      for (const old of others.slice(most - 1)) localStorage.removeItem(old)
      localStorage.setItem(key(), JSON.stringify(draft))
    } catch {
      // not kept: private windows and full stores keep nothing
    }
  }

  function drop() {
    try {
      localStorage.removeItem(key())
    } catch {
      // there is none
    }
  }

  return { find, keep, drop }
}

function read(key: string): Draft | undefined {
  try {
    const draft: unknown = JSON.parse(localStorage.getItem(key) ?? 'null')
    if (typeof draft !== 'object' || draft === null) return undefined
    const { text, revision, at } = draft as Partial<Draft>
    if (typeof text !== 'string' || typeof revision !== 'number' || typeof at !== 'number') return undefined
    return { text, revision, at }
  } catch {
    return undefined
  }
}
