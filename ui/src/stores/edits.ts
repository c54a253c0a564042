import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import {
  api,
  type Act,
  type Field,
  type Model,
  type Patch,
  type Problem,
  type Setting,
  type ShelfAct,
} from '../api/client'
import { useBench } from './bench'
import { createEditQueue, type EditQueue, type Outcome, type Request } from './editQueue'
import { useNotices } from './notices'

/** How much a browser sends for a page that is closed is bounded: 64 KiB in all. */
const keepaliveBytes = 16_000

const noModel: Problem = {
  type: 'about:blank',
  title: 'No model is open',
  status: 0,
  detail: 'open it in Models and try again',
}

/**
 * The edits of the model that is open: what is tried and not kept, what is kept, and what stands in the way.
 */
export const useEdits = defineStore('edits', () => {
  const bench = useBench()
  const queue = shallowRef<EditQueue>()
  const saving = computed(() => queue.value?.saving.value ?? 0)
  const notKept = computed(() => queue.value?.notKept.value)
  /** A change of this page that waits for a decision. */
  const clash = computed(() => queue.value?.clash.value)
  const trying = ref(0)
  /** Why the running trial was refused. */
  const refused = shallowRef<Problem>()
  let trial = 0
  /** The revision that the view is of. */
  let viewed = 0

  bench.add({
    opened: openQueue,
    take: {
      bench(message) {
        viewed = message.model.revision
        queue.value?.answers()
        trying.value = message.trying
        if (!trying.value || trying.value === trial) refused.value = undefined
      },
      refused(message) {
        if (message.id === trial) refused.value = message.problem
      },
    },
    forget() {
      queue.value?.close()
      queue.value = refused.value = undefined
      trying.value = trial = viewed = 0
    },
  })
  watch(
    () => bench.silent,
    (now) => now || queue.value?.answers(),
  )
  watch(
    () => bench.model,
    (now) => now && queue.value?.seen(now),
    { flush: 'sync' },
  )

  function openQueue(id: string) {
    let name = ''
    const own = createEditQueue(id, {
      newer: (newest: Model) => {
        if (queue.value === own && newest.revision >= (bench.model?.revision ?? 0)) bench.model = newest
      },
      dropped: () => {
        if (queue.value === own) endTrial()
      },
      lost: (why) => useNotices().say(`A change to ${name || 'a model'} was not saved: ${why}.`),
    })
    queue.value = own
    watch(
      () => bench.model,
      (now) => {
        if (now?.id === id) name = now.name
      },
      { flush: 'sync' },
    )
  }

  /** Tries a value of a field live, without keeping it. */
  function attempt(field: Field, value: Setting) {
    bench.send({ t: 'try', id: ++trial, part: field.at, field: field.name, value })
  }

  /** Goes back from a trial, or from an edit that was refused, to what is kept. */
  function drop() {
    if (queue.value) queue.value.notKept.value = undefined
    endTrial()
  }

  function endTrial() {
    refused.value = undefined
    if (trial === 0) return
    trial = 0
    bench.send({ t: 'drop' })
  }

  /** One change of the open model after the other. */
  function change(request: Request, against?: number): Promise<Outcome> {
    if (!queue.value) return Promise.resolve({ kept: false, problem: noModel })
    return queue.value.change(request, against)
  }

  /** Waits until the view is that of the newest revision; at most a second. */
  async function caughtUp() {
    for (let i = 0; i < 50 && viewed < (bench.model?.revision ?? 0); i++)
      await new Promise((done) => setTimeout(done, 20))
  }

  function keep(patch: Patch): Promise<Outcome> {
    return change(({ path, header, signal }) =>
      api.PATCH('/api/models/{id}', {
        params: { path, header },
        body: patch,
        headers: { 'Content-Type': 'application/json-patch+json' },
        signal,
      }),
    )
  }

  /** Adds, takes out, renames or moves a part, exchanges two channels, or sets a field. */
  const act = (what: Act) =>
    change(({ path, header, signal }) =>
      api.POST('/api/models/{id}/acts', {
        params: { path, header },
        body: what,
        keepalive: JSON.stringify(what).length < keepaliveBytes, // a page that is closed still saves it
        signal,
      }),
    )

  /** Does something between the open model and the shelf. */
  const shelve = (what: ShelfAct) =>
    change(({ path, header, signal }) =>
      api.POST('/api/models/{id}/shelf', { params: { path, header }, body: what, signal }),
    )

  /** Sets a field. Where it has that value already, nothing is kept, and what was tried is dropped. */
  async function set(field: Field, value: Setting): Promise<Outcome> {
    const outcome = await act({ act: 'set', part: field.at, field: field.name, value })
    if (outcome.kept || outcome.problem.status !== 409) return outcome
    drop()
    return { kept: true }
  }

  /** Makes the document what a text says that was read at a revision. */
  const putText = (text: string, against: number) =>
    change(
      ({ path, header, signal }) =>
        api.PUT('/api/models/{id}/text', {
          params: { path, header },
          body: text,
          bodySerializer: (body) => body,
          headers: { 'Content-Type': 'application/octet-stream' },
          signal,
        }),
      against,
    )

  /** Takes back what made a revision, or else the newest edit. */
  const undo = (revision?: number) =>
    change(({ path, header, sure, signal }) =>
      api.POST('/api/models/{id}/undo', { params: { path, header, query: { sure, revision } }, signal }),
    )
  const redo = () =>
    change(({ path, header, signal }) =>
      api.POST('/api/models/{id}/redo', { params: { path, header }, signal }),
    )

  return {
    saving,
    notKept,
    clash,
    trying,
    refused,
    attempt,
    drop,
    caughtUp,
    keep,
    act,
    shelve,
    set,
    putText,
    undo,
    redo,
  }
})
