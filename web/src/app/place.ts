import { useLocation } from 'react-router'

// Scope is what a view is of: everything, a client, or a location.
export type Scope = { client?: string; location?: string }

export const activities = [
  { id: 'today', title: 'Today', key: '1' },
  { id: 'coverage', title: 'Coverage', key: '2' },
  { id: 'record', title: 'Record', key: '3' },
  { id: 'verification', title: 'Verification', key: '4' },
  { id: 'differences', title: 'Differences', key: '5' },
  { id: 'special-dates', title: 'Special dates', key: '6' },
  { id: 'suspensions', title: 'Suspensions', key: '7' },
  { id: 'directories', title: 'Directories', key: '0' },
] as const

export type Activity = (typeof activities)[number]['id']

// pathOf is the address of an activity at a scope: both are always in it.
export function pathOf(activity: Activity, scope: Scope): string {
  if (scope.location) return `/${activity}/l/${scope.location}`
  if (scope.client) return `/${activity}/c/${scope.client}`
  return `/${activity}`
}

// casePath is the address of a case of a listing.
export const casePath = (location: string, directory: string, id: string) => `/suspensions/l/${location}/${directory}/${id}`

export const listingPath = (location: string, directory: string) => `/verification/l/${location}/${directory}`

type Place = { activity: Activity; scope: Scope }

// placeOf reads activity and scope from an address.
export function placeOf(pathname: string): Place {
  const [, first, kind, id] = pathname.split('/')
  const activity = activities.find((a) => a.id === first)?.id ?? 'today'
  return { activity, scope: { client: kind === 'c' ? id : undefined, location: kind === 'l' ? id : undefined } }
}

// usePlace is where the view is.
export const usePlace = (): Place => placeOf(useLocation().pathname)
