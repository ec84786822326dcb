import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { useFacts } from '../../api/queries'
import { counted } from '../../app/View'
import { useVerb } from '../../kit/verb'
import { useWhose, type Whose } from '../held'
import { PhotoBin } from './PhotoBin'
import { PhotoDetail } from './PhotoDetail'
import { Thumbs } from './Thumbs'
import { useOrder } from './useOrder'

type Photo = Schemas['Photo']

// Photos are a location's pictures, or those that a client has for all of them.
// They are kept at once, without saving the record.
export function Photos() {
  const whose = useWhose()
  if (whose) return <List query={whose} />
  return (
    <section className="sheet">
      <h2>Photos</h2>
      <p className="second">Photos can be brought in once this is added. What you typed is kept.</p>
    </section>
  )
}

function List({ query }: { query: Whose }) {
  const groups = useFacts().data?.photo_groups ?? []
  const queries = useQueryClient()
  const key = ['photos', query]
  const photos = useQuery({ queryKey: key, queryFn: () => told(api.GET('/api/photos', { params: { query } })) })
  const list = photos.data ?? []
  const [chosen, setChosen] = useState<string>()
  const picker = useRef<HTMLInputElement>(null)
  const photo = list.find((p) => p.id === chosen) ?? list[0]
  const put = (next: Photo) => queries.setQueryData<Photo[]>(key, (old) => old?.map((p) => (p.id === next.id ? next : p)))
  const order = useOrder(query, list)
  const remove = useVerb({
    does: (p: Photo) => told(api.DELETE('/api/photos/{photo}', { params: { path: { photo: p.id } } })),
    changes: ['photos'],
    says: (_, p) => `${p.file_name} is taken out.`,
    undo: async (_, p) => {
      await told(api.POST('/api/photos/{photo}/restore', { params: { path: { photo: p.id } } }))
      return `${p.file_name} is back.`
    },
    tells: true,
  })
  return (
    <div className="photos">
      <div>
        <PhotoBin query={query} groups={groups} picker={picker} onAdded={setChosen} />
        {list.length > 0 && <Thumbs photos={list} groups={groups} chosen={photo} onChoose={setChosen} order={order} />}
        {list.length > 0 && query.location && (
          <p className="second px-0">
            {counted(list.length, 'photo')}.{' '}
            <a href={`/api/locations/${query.location}/photos.zip`} download>
              Take all out as a ZIP
            </a>
            , originals and every directory’s shapes.
          </p>
        )}
      </div>
      {photo && (
        <PhotoDetail key={photo.id} photo={photo} others={list} groups={groups} onSaved={put} onRemove={() => remove.mutate(photo)} />
      )}
      {photos.isSuccess && list.length === 0 && (
        <div className="empty">
          <h2>No photos yet</h2>
          <p>
            A logo, a cover and three or four of the place are what most directories ask for. Each is cut here to every directory’s shape,
            around what must be seen.
          </p>
          <Button onClick={() => picker.current?.click()}>Choose files</Button>
        </div>
      )}
    </div>
  )
}
