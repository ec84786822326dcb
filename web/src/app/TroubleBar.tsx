import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, told } from '../api/client'
import { useTrouble } from '../api/trouble'
import { counted } from './View'

const troubles = {
  uvent: 'Uvent does not answer',
  database: 'Uvent’s database does not answer',
  disk: 'The disk of Uvent’s database is full',
}

// How long it is waited, in ms, before it is looked whether requests are answered again.
const pause = 2_000

// TroubleBar says on every screen that requests are not answered, and goes when they are: all is then read anew.
export function TroubleBar() {
  const trouble = useTrouble()
  const queries = useQueryClient()
  const [now, setNow] = useState(0)
  const troubled = !!trouble
  useEffect(() => {
    if (!troubled) return
    const timer = setInterval(() => {
      setNow(Date.now())
      told(api.GET('/api/session')).catch(() => {}) // told hears what it comes to
    }, pause)
    return () => {
      clearInterval(timer)
      void queries.invalidateQueries()
    }
  }, [troubled, queries])
  if (!trouble) return null
  const seconds = Math.max(0, Math.round((now - trouble.since) / 1000))
  const lasts = seconds < 60 ? counted(seconds, 'second') : counted(Math.floor(seconds / 60), 'minute')
  return (
    <div className="trouble" role="alert">
      <b>{troubles[trouble.of]}</b>
      {seconds > 0 && <span aria-live="off">, for {lasts} now</span>}. It is tried again by itself; what you type stays
      {trouble.of !== 'uvent' && ', and what you press is done when it is over'}.
    </div>
  )
}
