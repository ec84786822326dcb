import { useQuery } from '@tanstack/react-query'
import { z } from 'zod'
import { api, told } from '../api/client'
import { useClients, useSeesAll } from '../api/queries'
import { Choice, Fields, Send, useFields } from '../kit/form'
import { LocationOptions } from '../kit/options'
import { Failed, useVerb } from '../kit/verb'
import { Endable } from './Endable'
import { ToldOnce } from './ToldOnce'

// Whose deadlines: those of everything, of a client or of a location, by its id.
const whose = z.object({ of: z.string() })

// Feeds are private addresses for a calendar.
export function Feeds() {
  const found = useQuery({ queryKey: ['feeds'], queryFn: () => told(api.GET('/api/feeds')) })
  const clients = useClients()
  const all = useSeesAll()
  const form = useFields(whose, { of: '' })
  const make = useVerb({
    does: ({ of }: z.infer<typeof whose>) => {
      const location = clients.data?.flatMap((c) => c.locations).find((l) => l.id === of)
      return told(api.POST('/api/feeds', { body: location ? { location: of } : of ? { client: of } : {} }))
    },
    changes: ['feeds'],
  })
  const end = useVerb({
    does: (id: string) => told(api.DELETE('/api/feeds/{feed}', { params: { path: { feed: id } } })),
    changes: ['feeds'],
    says: () => 'The address has ended.',
  })
  return (
    <section className="sheet">
      <h2>Deadlines in a calendar</h2>
      <p className="second">An address that a calendar reads (iCalendar). Whoever has it can read the deadlines; end it when it is lost.</p>
      <Failed error={found.error ?? end.error} />
      {make.data && <ToldOnce before="Give this to the calendar; it is told once:" text={make.data.address} what="The address" />}
      <Endable list={found.data} end={end}>
        {(f) => f.name}
      </Endable>
      <Fields className="d-flex gap-2 pt-2" form={form} verb={make} send={make.mutate}>
        <Choice name="of" label="Deadlines of" hidden>
          <option value="">{all ? 'All clients' : 'All your clients'}</option>
          <LocationOptions of={clients.data ?? []} clients />
        </Choice>
        <Send verb={make} variant="outline-secondary" className="text-nowrap">
          Make an address
        </Send>
      </Fields>
    </section>
  )
}
