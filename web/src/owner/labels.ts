import type { Schemas } from '../api/client'

export type Page = Schemas['OwnerPage']
export type Thing = Schemas['OwnerThing']

// Labels writes what the page says of itself in its owner's language, with what is between braces filled in.
export type Labels = (key: string, fill?: Record<string, string | number>) => string

export const labelled =
  (texts: Record<string, string>): Labels =>
  (key, fill = {}) =>
    (texts[key] ?? key).replace(/\{(\w+)\}/g, (_, name: string) => String(fill[name] ?? ''))

// Doing is what each form of a thing is given.
// language is the one that was chosen: the page that is shown may be in another, until it comes in that.
export type Doing = { page: Page; thing: Thing; secret: string; language: Language; say: Labels; then: (after: Page) => void }
export type Language = 'en' | 'fr' | undefined

// pathTo is where an answer to a thing is sent.
export const pathTo = (d: Doing, what: string) =>
  `/api/owner/${d.secret}/things/${d.thing.id}/${what}` + (d.language ? `?in=${d.language}` : '')
export const asked = (d: Doing) => ({
  path: { secret: d.secret, thing: d.thing.id },
  query: { in: d.language },
})
