import { useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { api, told } from '../api/client'

// useSignOut signs out, and forgets what was seen.
export function useSignOut() {
  const queries = useQueryClient()
  const navigate = useNavigate()
  return async () => {
    await told(api.DELETE('/api/session'))
    navigate('/sign-in')
    queries.clear()
  }
}
