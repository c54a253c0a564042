import { nextTick, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'

import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

/** The part that was added last: its form takes the focus, so that it can be named at once. */
const fresh = shallowRef('')

/** Whether a part was just added; asked once. */
export function wasAdded(part: string): boolean {
  const is = fresh.value === part
  if (is) fresh.value = ''
  return is
}

/** Adding a part: gives its name, or says why there is none. */
export function useAdd() {
  const edits = useEdits()
  const problem = shallowRef('')

  async function add(list: string, kind?: string, of?: string): Promise<string | undefined> {
    const outcome = await edits.act({ act: 'add', part: list, kind, of })
    problem.value = outcome.kept ? '' : (outcome.problem.errors?.[0]?.remedy ?? outcome.problem.title)
    fresh.value = (outcome.kept && outcome.part) || ''
    return outcome.kept ? outcome.part : undefined
  }

  return { problem, add }
}

/** The parts that live in a place: which one is open, opened by what points at it, and adding one. */
export function useParts() {
  const bench = useBench()
  const route = useRoute()
  const opened = shallowRef<string>()
  const { problem, add: added } = useAdd()

  watch(
    [() => route.fullPath, () => bench.view !== undefined],
    async () => {
      if (!route.query.part) return
      opened.value = String(route.query.part)
      await nextTick()
      document
        .querySelector(`[data-behind='${CSS.escape(opened.value)}']`)
        ?.scrollIntoView({ block: 'nearest' })
    },
    { immediate: true },
  )

  const of = (list: string) => (bench.view?.behind ?? []).filter((b) => b.part.startsWith(`${list}/`))
  const kinds = (list: string) => bench.view?.groups.find((g) => g.list === list)?.kinds ?? []
  const toggle = (part: string) => (opened.value = opened.value === part ? undefined : part)

  async function add(list: string, kind?: string, of?: string) {
    opened.value = (await added(list, kind, of)) ?? opened.value
  }

  return { opened, problem, of, kinds, toggle, add }
}
