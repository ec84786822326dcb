import type { Schemas } from '../api/client'

// likely says how often such a thing is granted, and what of ours that rests on.
export function likely(h: Schemas['Hearing']): string {
  const ours = h.won + h.lost
  return `Granted ${h.says}` + (ours > 0 ? `; ${h.won} of ${ours} of ours.` : '.')
}
