import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'

import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'
import { useLeaveGuard } from './useLeaveGuard'

/** What a person types into. */
const typedInto = 'input:not([type=checkbox], [type=radio], [type=range]), textarea'

/**
 * What is kept of what is open, in words; the page is not left while something is saved, and Ctrl Z takes
 * back.
 */
export function useKept() {
  const bench = useBench()
  const edits = useEdits()
  useLeaveGuard(() => edits.saving > 0)

  const state = computed(() => {
    if (edits.saving && (bench.silent || edits.notKept))
      return 'not saved yet: the server does not answer; it is sent when it does'
    if (bench.silent) return 'the server does not answer, trying again'
    if (!bench.model && bench.unreached) return 'not connected, trying again'
    if (!bench.model) return 'opening the bench'
    if (edits.saving) return 'saving'
    if (edits.notKept?.status === 422) return 'not saved: what to do stands where you changed it'
    if (edits.notKept) return `not saved: ${edits.notKept.title}`
    if (edits.trying) return 'trying, not saved yet'
    if (!bench.connected) return 'not connected, trying again'
    return `saved, revision ${bench.model.revision}`
  })

  const calm = computed(() => state.value.startsWith('saved'))

  useEventListener('keydown', (event: KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
    // what is typed into has an undo of its own; a field that shows what is kept has nothing to take back
    const field = event.target instanceof HTMLElement && event.target.closest(typedInto)
    if (field && !field.matches('[data-clean]')) return
    event.preventDefault()
    if (event.shiftKey ? bench.model?.redo : bench.model?.undo)
      void (event.shiftKey ? edits.redo() : edits.undo())
  })

  return { state, calm, typedInto }
}
