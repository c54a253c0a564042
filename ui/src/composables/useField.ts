import { computed, shallowRef } from 'vue'

import type { Fault, Field, Problem, Setting } from '../api/client'
import { useEdits } from '../stores/edits'

/**
 * Editing one field: `attempt` tries a value live, `keep` makes a revision of it, `cancel` goes back. What
 * the server has against it stands in `fault`.
 */
export function useField(field: () => Field) {
  const edits = useEdits()
  const own = shallowRef('')
  const problem = shallowRef<Problem>()

  function attempt(value: Setting) {
    own.value = ''
    problem.value = undefined
    edits.attempt(field(), value)
  }

  let onItsWay: { value: string; done: Promise<boolean> } | undefined

  /**
   * Keeps a value. The same one again while it is still on its way, as leaving the field after Enter is,
   * keeps nothing more; another one follows it.
   */
  function keep(value: Setting): Promise<boolean> {
    const text = JSON.stringify(value)
    const before = onItsWay
    if (before?.value === text) return before.done
    const done = (async () => {
      if (before) {
        await before.done
        await edits.caughtUp() // what the document says now decides what the next value changes
      }
      own.value = ''
      const outcome = await edits.set(field(), value)
      problem.value = outcome.kept ? undefined : outcome.problem
      return outcome.kept
    })()
    const mine = { value: text, done }
    onItsWay = mine
    const over = () => onItsWay === mine && (onItsWay = undefined)
    done.then(over, over)
    return done
  }

  function cancel() {
    own.value = ''
    problem.value = undefined
    edits.drop()
  }

  function refuse(text: string) {
    own.value = text
  }

  const fault = computed(() => own.value || faultText(problem.value ?? edits.refused, field()))
  return { attempt, keep, cancel, refuse, fault }
}

/** The fault of a problem that belongs to a field, else what the problem says at all. */
function faultText(problem: Problem | undefined, field: Field): string {
  if (!problem) return ''
  const faults = problem.errors ?? []
  const mine = faults.find((f) =>
    field.paths.some((path) => path === f.path || f.path.startsWith(`${path}[`)),
  )
  if (mine) return sentence(mine)
  if (problem.since?.length) return `${problem.title}: ${problem.since.map((r) => r.words).join('; ')}`
  // a fault that belongs to another field of the editor is said there
  const near = faults.some((f) => field.paths.some((path) => parent(path) === parent(f.path)))
  if (near) return ''
  return faults[0] ? sentence(faults[0]) : [problem.title, problem.detail].filter(Boolean).join(': ')
}

function sentence(f: Fault): string {
  return `${f.message}; ${f.remedy}`
}

function parent(path: string): string {
  return path.slice(0, Math.max(path.lastIndexOf('.'), 0))
}
