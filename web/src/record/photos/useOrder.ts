import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, told, type Schemas } from '../../api/client'
import { useVerb } from '../../kit/verb'
import type { Whose } from '../held'

type Photo = Schemas['Photo']

export type Order = {
  // Puts a photo before another, also into its group.
  before: (id: string, other: Photo) => void
  // Puts a photo last.
  last: (photo: Photo) => void
}

// useOrder puts photos in another order, which is shown before it is kept.
export function useOrder(query: Whose, list: Photo[]): Order {
  const queries = useQueryClient()
  const key = ['photos', query]
  const order = useMutation({
    mutationFn: (next: Photo[]) => told(api.PUT('/api/photos/order', { params: { query }, body: next.map((p) => p.id) })),
    onMutate: async (next) => {
      await queries.cancelQueries({ queryKey: key }) // an answer from before must not undo it on the screen
      queries.setQueryData(key, next)
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['photos'] }),
  })
  const regroup = useVerb({
    does: ({ photo, group }: { photo: Photo; group: string; then: Photo[] }) => {
      const { caption, alternative, focus } = photo
      const body = { group, caption, alternative, focus }
      return told(api.PUT('/api/photos/{photo}', { params: { path: { photo: photo.id } }, body }))
    },
    then: (_, { then }) => order.mutate(then),
    tells: true,
  })
  return {
    before: (id, other) => {
      const photo = list.find((p) => p.id === id)
      if (!photo || id === other.id) return
      const then = list.filter((p) => p.id !== id)
      then.splice(then.indexOf(other), 0, { ...photo, group: other.group })
      if (photo.group === other.group) order.mutate(then)
      else regroup.mutate({ photo, group: other.group, then })
    },
    last: (photo) => order.mutate([...list.filter((o) => o !== photo), photo]),
  }
}
