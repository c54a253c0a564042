import type { Schemas } from '../api/client'

export type Place = Schemas['FillPlace']
export type Choice = Schemas['FillChoice']
export type Lists = Record<string, Choice[]>
export type Values = Record<string, string[]>

/** What can fill a place: its own choices, those of the list that it names, and the rows of another place. */
export function choicesOf(place: Place, places: Place[], lists: Lists, values: Values): Choice[] {
  const rows = places.find((one) => one.key === place.from)
  const given = rows ? rowsOf(values[rows.key] ?? [], rows.names.length) : []
  const own = [...place.choices, ...(lists[place.of] ?? [])]
  return [...own, ...given.map((row) => ({ value: row[0] ?? '', label: spaced(row[0] ?? '') }))]
}

/** A list of values as the rows of a table. */
export function rowsOf(values: string[], columns: number): string[][] {
  const rows: string[][] = []
  for (let i = 0; columns > 0 && i < values.length; i += columns) rows.push(values.slice(i, i + columns))
  return rows
}

/** The name of a position or a step as it is read. */
export const spaced = (name: string) => name.replaceAll('_', ' ')

/** The condition that a hand made: a switch in its position, or a lever past where it stands half way out. */
export function condition(moved: string, at: number | string | undefined): string {
  if (moved.includes('.')) return moved
  return typeof at === 'number' && at < 0 ? `${moved}<-30` : `${moved}>30`
}

/** A condition turned round. */
export const opposite = (text: string) => (text.startsWith('not ') ? text.slice(4) : `not ${text}`)
