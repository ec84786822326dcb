import { useClients } from '../api/queries'
import type { Scope } from './place'

// useScopeName names a scope: nothing for everything, a client, or a location
// with its client.
export function useScopeName(scope: Scope): string {
  const clients = useClients().data ?? []
  if (scope.client) return clients.find((c) => c.id === scope.client)?.name ?? ''
  if (scope.location) {
    for (const c of clients) {
      const l = c.locations.find((l) => l.id === scope.location)
      if (l) return `${c.name}, ${l.label}`
    }
  }
  return ''
}
