import type { Rec } from '../api/client'
import { factAt, withFact } from './held'

// blank is a record that says nothing yet.
export const blank: Rec = {
  label: '',
  store_code: '',
  name: '',
  legal_name: '',
  former_names: [],
  former_addresses: [],
  kind: 'premises',
  address: { street: '', unit: '', locality: '', region: '', postal_code: '', country: 'US' },
  mailing: { contact: '', address: { street: '', unit: '', locality: '', region: '', postal_code: '', country: '' } },
  pin: null,
  phones: [],
  email: '',
  website: '',
  category: '',
  other_categories: [],
  attributes: {},
  words: { tagline: '', short: '', medium: '', long: '', story: '', keywords: [], specialities: [] },
  directions: '',
  parking: '',
  state: { kind: 'open', until: '', to: '' },
  opened: '',
  hours: '',
  zone: '',
  area: { minutes: 0, towns: [], without: [] },
  links: { booking: '', ordering: '', quote: '', menu: '', gift_card: '', app: '' },
  socials: [],
  videos: [],
  tags: { on: false, medium: '', campaign: '' },
  payments: [],
  licences: [],
  team: [],
  offerings: [],
  company: { registration: '', size: '', kind: '', industry: '', founded: '', domains: [] },
  own: [],
}

// heir is a new location of a client: what the client says for all is in it.
export const heir = (shared: Rec, inheritable: string[]): Rec =>
  inheritable.reduce((r, path) => ({ ...r, ...withFact(r, path, factAt(shared, path)) }), blank)
