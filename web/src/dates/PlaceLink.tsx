import { Link } from 'react-router'
import { pathOf } from '../app/place'
import type { DateRow } from './decide'

// PlaceLink leads to the hours of a place's record.
export function PlaceLink({ place: p }: { place: DateRow['places'][number] }) {
  return <Link to={pathOf('record', { location: p.location }) + '#hours'}>{p.label}</Link>
}
