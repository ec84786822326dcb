import type { Schemas } from '../api/client'

export type Role = Schemas['Person']['role']

// roles are what people may be, with what each may do.
export const roles: [Role, string][] = [
  ['administrator', 'does everything, and says who else may'],
  ['specialist', 'edits and sends'],
  ['helper', 'edits, and sends nothing'],
  ['client', 'sees its own locations, and confirms'],
]
