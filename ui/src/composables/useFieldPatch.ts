import type { Field, Patch } from '../api/client'

type Setting = number | string | boolean

/**
 * The patch that sets a field to a value: a test of each list element's id, then add, or remove where the
 * value is the usual one. Empty where nothing would change.
 */
export function fieldPatch(field: Field, value: Setting): Patch {
  const usual =
    !field.always && field.kind !== 'choice' && value === (field.kind === 'yes_no' ? false : field.usual)
  const patch: Patch = []
  for (const target of field.targets) {
    if (usual && !target.present) continue
    if (target.list_id) patch.push({ op: 'test', path: target.id_at, value: target.list_id })
    if (usual) patch.push({ op: 'remove', path: target.pointer })
    else patch.push({ op: 'add', path: target.pointer, value: signed(value, target.sign) })
  }
  return patch
}

function signed(value: Setting, sign: number): Setting {
  return typeof value === 'number' ? value * sign : value
}
