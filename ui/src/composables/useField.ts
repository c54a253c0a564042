import { computed, shallowRef } from 'vue'

import type { Fault, Field, Problem } from '../api/client'
import { useBench } from '../stores/bench'
import { fieldPatch, type Setting } from './useFieldPatch'

/**
 * Editing one field: `attempt` tries a value live, `keep` makes a revision of it, `cancel` goes back. What the
 * server has against it stands in `fault`.
 */
export function useField(field: () => Field) {
  const bench = useBench()
  const own = shallowRef('')
  const problem = shallowRef<Problem>()

  function attempt(value: number | string | boolean) {
    own.value = ''
    problem.value = undefined
    bench.attempt(fieldPatch(field(), value))
  }

  let keeping = false

  /** Keeps a value; a second time while it is still on its way, as leaving the field is, keeps nothing more. */
  async function keep(value: Setting) {
    if (keeping) return false
    own.value = ''
    const patch = fieldPatch(field(), value)
    keeping = true
    const outcome = await bench.keep(patch)
    keeping = false
    problem.value = outcome.kept ? undefined : outcome.problem
    return outcome.kept
  }

  function cancel() {
    own.value = ''
    problem.value = undefined
    bench.drop()
  }

  function refuse(text: string) {
    own.value = text
  }

  const fault = computed(() => own.value || faultText(problem.value ?? bench.refused, field()))
  return { attempt, keep, cancel, refuse, fault }
}

/** The fault of a problem that belongs to a field, else what the problem says at all. */
function faultText(problem: Problem | undefined, field: Field): string {
  if (!problem) return ''
  const faults = problem.errors ?? []
  const mine = faults.find((f) =>
    field.targets.some((t) => t.path === f.path || f.path.startsWith(`${t.path}[`)),
  )
  if (mine) return sentence(mine)
  if (problem.since?.length) return `${problem.title}: ${problem.since.map((r) => r.words).join('; ')}`
  // a fault that belongs to another field of the editor is said there
  const near = faults.some((f) => field.targets.some((t) => parent(t.path) === parent(f.path)))
  if (near) return ''
  return faults[0] ? sentence(faults[0]) : [problem.title, problem.detail].filter(Boolean).join(': ')
}

function sentence(f: Fault): string {
  return `${f.message}; ${f.remedy}`
}

function parent(path: string): string {
  return path.slice(0, Math.max(path.lastIndexOf('.'), 0))
}
