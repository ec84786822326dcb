import { api, told } from '../api/client'
import { counted } from '../app/View'
import { useVerb } from '../kit/verb'

// What can be done with matters: all that are chosen, or one.
export type Deed =
  | { do: 'note'; says: string }
  | { do: 'hand'; to?: string; name: string }
  | { do: 'decide'; why: string }
  | { do: 'putOff'; until: string; reason: string; when: string }

const done: Record<Deed['do'], string> = { note: 'noted', hand: 'handed over', decide: 'decided', putOff: 'put off' }

// useMatter does something with matters, which are asked for when it is done; what can be undone is offered to be.
export function useMatter(ids: () => Promise<string[]>, then: () => void) {
  return useVerb({
    does: async (d: Deed) => {
      const matters = await ids()
      switch (d.do) {
        case 'note':
          await told(api.POST('/api/matters/notes', { body: { matters, says: d.says } }))
          break
        case 'hand':
          await told(api.POST('/api/matters/handovers', { body: { matters, to: d.to } }))
          break
        case 'decide':
          await told(api.POST('/api/matters/decisions', { body: { matters, why: d.why } }))
          break
        case 'putOff':
          await told(api.POST('/api/matters/snoozes', { body: { matters, until: d.until, reason: d.reason } }))
      }
      return matters
    },
    changes: ['today', 'today-rest'],
    then,
    says: (matters, d) =>
      `${counted(matters.length, 'matter')} ${matters.length === 1 ? 'is' : 'are'} ${done[d.do]}` +
      (d.do === 'hand' ? ` to ${d.name}.` : d.do === 'putOff' ? ` ${d.when}.` : '.'),
    undo: async (matters, d) => {
      if (d.do === 'putOff') await told(api.DELETE('/api/matters/snoozes', { body: { matters } }))
      if (d.do === 'hand') await told(api.POST('/api/matters/handovers', { body: { matters } }))
      if (d.do === 'decide')
        for (const matter of matters) await told(api.DELETE('/api/matters/{matter}/decision', { params: { path: { matter } } }))
      if (d.do === 'note') return 'A note stays; say another.'
    },
  })
}
