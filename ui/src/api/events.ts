import { api, unreachable, type Problem, type Schemas } from './client'

type Noting = Schemas['Noting']

/** What of an event is not said. */
const nothing = { part: '', what: '', was: '', becomes: '', says: '', minutes: 0, battery: '', on: '' }

/** Notes something that happened to a model; what is wrong with it otherwise. */
export async function noteEvent(
  id: string,
  of: Partial<Noting> & { kind: string },
): Promise<Problem | undefined> {
  const body: Noting = { ...nothing, ...of, id: crypto.randomUUID() }
  const answer: { error?: Problem } = await api
    .POST('/api/models/{id}/events', { params: { path: { id } }, body })
    .catch(() => ({ error: unreachable }))
  return answer.error
}
