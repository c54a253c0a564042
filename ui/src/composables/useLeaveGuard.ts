import { onScopeDispose } from 'vue'

/** Everything of the page that would be lost with it. */
const guards = new Set<() => boolean>()

function ask(event: BeforeUnloadEvent) {
  if ([...guards].some((unsaved) => unsaved())) event.preventDefault()
}

/**
 * Makes the browser ask before the page is closed or reloaded while `unsaved` says so. It is called at that
 * moment, so it can send what there is.
 */
export function useLeaveGuard(unsaved: () => boolean) {
  if (guards.size === 0) window.addEventListener('beforeunload', ask)
  guards.add(unsaved)
  onScopeDispose(() => {
    guards.delete(unsaved)
    if (guards.size === 0) window.removeEventListener('beforeunload', ask)
  })
}
