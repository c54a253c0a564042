import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

import { api, unreachable, type Playing, type Problem, type Recording } from '../api/client'
import { useBench } from './bench'

/** A file of what the hands did; exact where it gives from power-on what was seen. */
export interface Saved {
  text: string
  exact: boolean
}

/** What plays on the bench instead of the hands, and what is kept with the model by name. */
export const usePlayer = defineStore('player', () => {
  const bench = useBench()
  const playing = shallowRef<Playing>()
  const recordings = shallowRef<Recording[]>([])
  let saved: ((file: Saved) => void) | undefined

  bench.add({
    take: {
      frame(message) {
        if (message.play) playing.value = { ...playing.value, ...message.play }
      },
      played(message) {
        playing.value = message.play.recording ? message.play : undefined
      },
      saved(message) {
        saved?.({ text: message.text, exact: message.exact })
      },
    },
    forget() {
      playing.value = undefined
      recordings.value = []
    },
  })

  /** Plays a recording on the bench instead of the hands; an empty one gives the bench back. */
  function play(recording: string, how: { run?: number; seek?: number } = {}) {
    bench.send({ t: 'play', recording, ...how })
  }

  /** Reads what is kept with the model by name. */
  async function listRecordings() {
    const id = bench.model?.id
    if (!id) return
    const answer = await api.GET('/api/models/{id}/recordings', { params: { path: { id } } })
    recordings.value = answer.data ?? recordings.value
  }

  /** Keeps a script with the model by a name; exact where it gives from power-on what was seen. */
  async function keep(name: string, file: Saved): Promise<{ kept?: Recording; problem?: Problem }> {
    try {
      const answer = await api.POST('/api/models/{id}/recordings', {
        params: { path: { id: bench.model?.id ?? '' }, query: { name, exact: file.exact } },
        body: file.text,
        bodySerializer: (body) => body,
        headers: { 'Content-Type': 'application/octet-stream' },
      })
      await listRecordings()
      return { kept: answer.data, problem: answer.error }
    } catch {
      return { problem: unreachable }
    }
  }

  /** What the hands did, as a script, or as the trace or dump that the bench made of it. */
  function save(format: 'script' | 'csv' | 'vcd'): Promise<Saved> {
    bench.send({ t: 'save', format })
    return new Promise((done) => (saved = done))
  }

  return { playing, recordings, play, listRecordings, keep, save }
})
