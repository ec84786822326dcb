import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api, told } from '../api/client'

// windowID tells this window from others, also of the same person.
const windowID = (() => {
  const b = crypto.getRandomValues(new Uint8Array(16))
  b[6] = (b[6]! & 0x0f) | 0x40
  b[8] = (b[8]! & 0x3f) | 0x80
  const hex = [...b].map((x) => x.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')
})()

const at = (location: string) => `/api/locations/${location}/presence/${windowID}`

// usePresence says that this window has a record open, and hears which others have.
export function usePresence(location: string, editing: boolean) {
  useEffect(() => {
    const leave = () => void fetch(at(location), { method: 'DELETE', keepalive: true }).catch(() => {})
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [location])
  return (
    useQuery({
      queryKey: ['presence', location, editing],
      queryFn: () =>
        told(
          api.PUT('/api/locations/{location}/presence/{window}', { params: { path: { location, window: windowID } }, body: { editing } }),
        ),
      refetchInterval: 15_000,
      placeholderData: (before) => before,
    }).data ?? []
  )
}
