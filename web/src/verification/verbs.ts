import { useQueryClient } from '@tanstack/react-query'
import { api, told, type Listing, type Schemas } from '../api/client'
import { useVerb } from '../kit/verb'

export type Found = 'nothing' | 'free' | 'ours' | 'held_by_another'
type Answered = 'taken_in' | 'verified' | 'refused' | 'public' | 'not_public'

// Asked is one thing a person asks of a directory, or tells of it.
export type Asked =
  | { do: 'create'; name?: string }
  | { do: 'search' | 'look' | 'photos' | 'status' | 'stop' | 'access' | 'escalate' }
  | { do: 'send'; facts?: string[] }
  | { do: 'appeal'; text: string; papers: string[] }
  | { do: 'claim' | 'duplicate'; ref: string }
  | { do: 'ask'; method: string; despite?: boolean; instead?: string; payer?: string }
  | { do: 'mend'; paper: string; fact: 'unit' | 'name' }
  | { do: 'seen' | 'read' }
  | { do: 'arrived'; attempt: string }
  | { do: 'copy'; from: string }
  | { do: 'back' }
  | { do: 'place'; is: 'left' | 'same' | 'taken_up'; ref?: string }
  | { do: 'say'; post: Schemas['Post'] }
  | { do: 'role'; account: string; role: string }
  | { do: 'suggest'; fact: string; evidence: string }
  | { do: 'found'; what: Found; page?: string; heldBy?: string }
  | { do: 'answered'; what: Answered; page?: string; says?: string }

// useListingVerb does a verb and puts the answer in the listing's place. While the
// directory has not answered, the listing itself says so.
export function useListingVerb(l: Listing) {
  const queries = useQueryClient()
  const path = { location: l.row.location, directory: l.row.directory }
  const params = { params: { path } }
  return useVerb({
    does: (v: Asked): Promise<Listing> => {
      switch (v.do) {
        case 'search':
          return told(api.POST('/api/listings/{location}/{directory}/search', params))
        case 'create':
          return told(api.POST('/api/listings/{location}/{directory}/create', { ...params, body: { page_name: v.name } }))
        case 'look':
          return told(api.POST('/api/listings/{location}/{directory}/looks', params))
        case 'claim':
          return told(api.POST('/api/listings/{location}/{directory}/claim', { ...params, body: { ref: v.ref } }))
        case 'ask':
          return told(
            api.POST('/api/listings/{location}/{directory}/codes', {
              ...params,
              body: { method: v.method, despite: v.despite, instead: v.instead, payer: v.payer },
            }),
          )
        case 'status':
          return told(api.POST('/api/listings/{location}/{directory}/status', params))
        case 'seen':
          return told(api.DELETE('/api/listings/{location}/{directory}/from-owner', params))
        case 'read':
          return told(api.DELETE('/api/listings/{location}/{directory}/from-staff', params))
        case 'stop':
          return told(api.DELETE('/api/listings/{location}/{directory}/asking', params))
        case 'duplicate':
          return told(api.POST('/api/listings/{location}/{directory}/duplicates', { ...params, body: { ref: v.ref } }))
        case 'send':
          return told(api.POST('/api/listings/{location}/{directory}/send', { ...params, body: { facts: v.facts } }))
        case 'mend':
          return told(
            api.POST('/api/locations/{location}/mendings', {
              params: { path: { location: path.location } },
              body: { paper: v.paper, fact: v.fact },
            }),
          ).then(() => told(api.GET('/api/listings/{location}/{directory}', params)))
        case 'access':
          return told(api.POST('/api/listings/{location}/{directory}/access', params))
        case 'escalate':
          return told(api.POST('/api/listings/{location}/{directory}/escalation', params))
        case 'photos':
          return told(api.POST('/api/listings/{location}/{directory}/photos', params))
        case 'copy':
          return told(api.POST('/api/listings/{location}/{directory}/copy', { ...params, body: { from: v.from } }))
        case 'appeal':
          return told(api.POST('/api/listings/{location}/{directory}/appeals', { ...params, body: { text: v.text, papers: v.papers } }))
        case 'back':
          return told(api.DELETE('/api/listings/{location}/{directory}/withdrawal', params))
        case 'place':
          return told(api.PUT('/api/listings/{location}/{directory}/place', { ...params, body: { is: v.is, ref: v.ref } }))
        case 'say':
          return told(api.POST('/api/listings/{location}/{directory}/posts', { ...params, body: v.post }))
        case 'role':
          return told(api.POST('/api/listings/{location}/{directory}/roles', { ...params, body: { account: v.account, role: v.role } }))
        case 'suggest':
          return told(
            api.POST('/api/listings/{location}/{directory}/suggestions', { ...params, body: { fact: v.fact, evidence: v.evidence } }),
          )
        case 'found':
          return told(
            api.POST('/api/listings/{location}/{directory}/found', { ...params, body: { what: v.what, page: v.page, held_by: v.heldBy } }),
          )
        case 'answered':
          return told(
            api.POST('/api/listings/{location}/{directory}/answers', { ...params, body: { what: v.what, page: v.page, says: v.says } }),
          )
        case 'arrived':
          return told(
            api.POST('/api/listings/{location}/{directory}/codes/{attempt}/arrived', { params: { path: { ...path, attempt: v.attempt } } }),
          )
      }
    },
    then: (after) => queries.setQueryData(['listing', path.location, path.directory], after),
    says: (after, v) => {
      if (v.do === 'photos' && after.photos_at)
        return `${after.photos_given} photos were taken. Look at the page to see whether they stick.`
      if (v.do === 'status' && after.attempts.some((a) => a.state === 'review')) return 'Asked: they are still looking into it.'
      if (v.do === 'say' && !after.trouble && !after.busy) return after.history[0]?.says
      if (v.do === 'look') return after.row.strand.visibility === 'public' ? 'Looked: it is public.' : 'Looked: it does not show.'
      return undefined
    },
  })
}
