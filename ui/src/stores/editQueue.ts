import { ref, shallowRef } from 'vue'

import { api, origin, unreachable, type Model, type Problem } from '../api/client'

/** What an edit came to. */
export type Outcome = { kept: true; part?: string } | { kept: false; problem: Problem }

/** What is against a change: its first fault with the remedy, else what happened; empty where it is kept. */
export function refusalOf(outcome: Outcome) {
  if (outcome.kept) return ''
  const fault = outcome.problem.errors?.[0]
  return fault ? `${fault.message}; ${fault.remedy}` : outcome.problem.title
}

/** A change that met another one: what was made meanwhile, and how to go on. */
export interface Clash {
  problem: Problem
  settle: (onTop: boolean) => void
}

type Headers = ReturnType<typeof origin> & { 'If-Match': string }
/** How a request goes out: to this model, under these headers, given up when the signal says so. */
export interface Sending {
  path: { id: string }
  header: Headers
  sure: boolean
  signal: AbortSignal
}
export type Request = (sending: Sending) => Promise<{ data?: Model; error?: Problem }>

/** How long one request may take, and how long a model that was left goes on trying. */
const answerWithin = 10_000
const leftFor = 60_000

/**
 * The edits of one opened model, one after the other, each against the newest revision that is known.
 * What gets no answer is sent again under the same id until it does, so it is made once. Closing settles
 * what waits for a decision; what cannot be saved is given to `lost`.
 */
export function createEditQueue(
  id: string,
  hooks: { newer: (model: Model) => void; dropped: () => void; lost: (why: string) => void },
) {
  const saving = ref(0)
  const notKept = shallowRef<Problem>()
  const clash = shallowRef<Clash>()
  let revision = 0
  let last: Promise<unknown> = Promise.resolve()
  let closedAt = 0
  let wake: (() => void) | undefined

  /** Takes note of the newest revision that anybody told of. */
  function seen(model: Model) {
    if (model.id === id && model.revision > revision) revision = model.revision
  }

  /**
   * Makes a change of the newest revision, or, where it was made of the whole of an older one, against that.
   */
  function change(request: Request, against?: number): Promise<Outcome> {
    saving.value++
    const own = last.then(() => run(request, against)).finally(() => saving.value--)
    last = own.catch(() => undefined)
    return own
  }

  async function run(request: Request, against = revision, sure = false): Promise<Outcome> {
    const header = { ...origin(), 'If-Match': `"${against}"` }
    const answer = await again(request, header, sure)
    if (answer.data) {
      const before = revision
      seen(answer.data)
      if (answer.data.revision >= before) hooks.newer(answer.data)
      notKept.value = undefined
      hooks.dropped()
      return { kept: true, part: answer.data.part }
    }
    const problem = answer.error ?? unreachable
    const met = problem.status === 412 || problem.type === 'urn:axtren:touched'
    if (met && (await decide(problem))) {
      await newest()
      return run(request, revision, true)
    }
    notKept.value = met ? undefined : problem // what was dropped on purpose is no trouble
    if (closedAt && !met) hooks.lost(problem.title)
    return { kept: false, problem }
  }

  /**
   * Asks the person whether a change that met another one goes on top of it; nobody is there to ask once it
   * is closed.
   */
  function decide(problem: Problem): Promise<boolean> {
    if (closedAt) {
      hooks.lost(met(problem))
      return Promise.resolve(false)
    }
    return new Promise((done) => {
      clash.value = {
        problem,
        settle(onTop) {
          clash.value = undefined
          if (!onTop) hooks.dropped()
          done(onTop)
        },
      }
    })
  }

  function met(problem: Problem): string {
    const since = (problem.since ?? []).map((r) => r.words.split('\n')[0]).join('; ')
    return since
      ? `it met another change (${since}), and nobody decided`
      : 'it met another change, and nobody decided'
  }

  /** Reads the model as it is now, where the bench has not told it yet. */
  async function newest() {
    try {
      const answer = await api.GET('/api/models/{id}', { params: { path: { id } } })
      if (!answer.data) return
      seen(answer.data)
      hooks.newer(answer.data)
    } catch {
      // the edit itself is sent again until it is answered
    }
  }

  async function again(request: Request, header: Headers, sure: boolean): ReturnType<Request> {
    for (let wait = 200; ; wait = Math.min(wait * 2, 3000)) {
      try {
        const answer = await request({
          path: { id },
          header,
          sure,
          signal: AbortSignal.timeout(answerWithin),
        })
        if (answer.error?.status !== 503) return answer
        notKept.value = answer.error
      } catch {
        notKept.value = unreachable
      }
      if (closedAt && Date.now() - closedAt > leftFor) return { error: notKept.value }
      await new Promise<void>((done) => {
        wake = done
        setTimeout(done, wait)
      })
    }
  }

  /** The server answers: what waits is sent at once. */
  function answers() {
    wake?.()
  }

  /**
   * The model is left: what waits for a decision is dropped and said, the rest goes on being sent for a
   * while.
   */
  function close() {
    closedAt = Date.now()
    const open = clash.value
    if (open) {
      hooks.lost(met(open.problem))
      open.settle(false)
    }
    answers()
  }

  return { saving, notKept, clash, seen, change, answers, close }
}

export type EditQueue = ReturnType<typeof createEditQueue>
