import type { Field, Op, Patch } from '../api/client'
import { typed } from '../figures'

export type Setting = number | string | boolean | string[][]

/**
 * The patch that sets a field to a value: a test of each list element's id, then add, or remove where the
 * value is what the document means when it says nothing. Empty where nothing would change.
 */
export function fieldPatch(field: Field, value: Setting): Patch {
  const patch: Patch = []
  for (const target of field.targets) {
    const json = documentValue(field, value, target.sign)
    if (json === undefined && !target.present) continue
    if (target.list_id) patch.push({ op: 'test', path: target.id_at, value: target.list_id })
    if (target.make) patch.push({ op: 'add', path: target.make, value: {} })
    if (json === undefined) patch.push({ op: 'remove', path: target.pointer })
    else patch.push({ op: 'add', path: target.pointer, value: json } as Op)
  }
  return patch
}

/** What the document gets; undefined where it is to say nothing. */
function documentValue(field: Field, value: Setting, sign: number): unknown {
  const choice = field.choices?.find((c) => c.value === value)
  switch (field.kind) {
    case 'number':
      if (value === '') return undefined
      return !field.always && !field.optional && value === field.usual ? undefined : (value as number) * sign
    case 'yes_no':
      if (field.seed) return value ? field.seed : undefined
      return !field.always && value === (field.usual !== 0) ? undefined : value
    case 'reference':
      if (value === '') return undefined
      return choice ? value : (typed(String(value)) ?? value)
    case 'rows':
      return rowsOf(field, value as string[][])
    case 'written':
      return value === '' ? undefined : JSON.parse(String(value))
    default:
      return value === '' ? undefined : (choice?.json ?? value)
  }
}

/** A table as the document has it; undefined for an empty one that may be left out. */
function rowsOf(field: Field, rows: string[][]): unknown {
  if (rows.length === 0 && !field.always) return undefined
  const columns = field.columns ?? []
  const cell = (row: string[], i: number) => cellOf(columns[i], row[i] ?? '')
  if (field.shape === 'plain') return rows.map((row) => cell(row, 0))
  if (field.shape === 'pairs') return rows.map((row) => [cell(row, 0), cell(row, 1)])
  if (field.shape === 'groups') {
    const groups: Record<string, unknown[]> = {}
    for (const row of rows) (groups[row[0] ?? ''] ??= []).push([cell(row, 1), cell(row, 2)])
    return groups
  }
  return rows.map((row) =>
    Object.fromEntries(columns.map((c, i) => [c.name, cell(row, i)]).filter(([, v]) => v !== undefined)),
  )
}

function cellOf(column: Field | undefined, text: string): unknown {
  if (text === '') return undefined
  if (column?.kind === 'written') return JSON.parse(text)
  if (column?.kind === 'number' || column?.kind === 'reference') return typed(text) ?? text
  return text
}
