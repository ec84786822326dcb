import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { useFacts } from '../../api/queries'
import { useSay } from '../../app/say'
import { Uploads, useUploads } from '../../app/Uploads'
import { counted } from '../../app/View'
import { useWhose } from '../held'
import { PhotoDetail } from './PhotoDetail'

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

function List({ query }: { query: { client?: string; location?: string } }) {
  const facts = useFacts().data
  const groups = facts?.photo_groups ?? []
  const queries = useQueryClient()
  const say = useSay()
  const key = ['photos', query]
  const photos = useQuery({ queryKey: key, queryFn: () => told(api.GET('/api/photos', { params: { query } })) })
  const list = photos.data ?? []
  const [chosen, setChosen] = useState<string>()
  const [group, setGroup] = useState('exterior')
  const [over, setOver] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  const photo = list.find((p) => p.id === chosen) ?? list[0]

  const put = (next: Photo) => queries.setQueryData<Photo[]>(key, (old) => old?.map((p) => (p.id === next.id ? next : p)))
  const {
    sending,
    send: sendAll,
    drop,
  } = useUploads<Photo>(facts?.photo_bytes, (added) => {
    setChosen(added.id)
    void queries.invalidateQueries({ queryKey: ['photos'] })
  })
  const send = (files: File[], into: string) =>
    sendAll(files, '/api/photos?' + new URLSearchParams(query as Record<string, string>).toString(), { group: into })
  const latest = useRef(send)
  useEffect(() => {
    latest.current = send
  })
  useEffect(() => {
    const onPaste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])]
      if (files.length === 0) return
      e.preventDefault()
      void latest.current(files, group)
    }
    window.addEventListener('paste', onPaste)
    return () => window.removeEventListener('paste', onPaste)
  }, [group])

  const remove = useMutation({
    mutationFn: (p: Photo) => told(api.DELETE('/api/photos/{photo}', { params: { path: { photo: p.id } } })),
    onSuccess: (_, p) => {
      void queries.invalidateQueries({ queryKey: ['photos'] })
      say(`${p.file_name} is taken out.`, async () => {
        try {
          await told(api.POST('/api/photos/{photo}/restore', { params: { path: { photo: p.id } } }))
          void queries.invalidateQueries({ queryKey: ['photos'] })
        } catch (e) {
          say((e as Error).message)
        }
      })
    },
  })
  const order = useMutation({
    mutationFn: (next: Photo[]) => told(api.PUT('/api/photos/order', { params: { query }, body: next.map((p) => p.id) })),
    onMutate: async (next) => {
      await queries.cancelQueries({ queryKey: key }) // an answer from before must not undo it on the screen
      queries.setQueryData(key, next)
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['photos'] }),
  })
  // move puts a photo before another, also into its group.
  const move = async (id: string, before: Photo) => {
    const moved = list.find((p) => p.id === id)
    if (!moved || moved.id === before.id) return
    if (moved.group !== before.group) {
      const { caption, alternative, focus } = moved
      put(
        await told(
          api.PUT('/api/photos/{photo}', { params: { path: { photo: id } }, body: { group: before.group, caption, alternative, focus } }),
        ),
      )
    }
    const rest = list.filter((p) => p.id !== id)
    rest.splice(rest.indexOf(before), 0, { ...moved, group: before.group })
    order.mutate(rest)
  }
  return (
    <div className="photos">
      <div>
        <section
          className={'sheet photo-drop' + (over ? ' over' : '')}
          onDragOver={(e) => {
            if (!e.dataTransfer.types.includes('Files')) return
            e.preventDefault()
            setOver(true)
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(e) => {
            if (e.dataTransfer.files.length === 0) return
            e.preventDefault()
            setOver(false)
            void send([...e.dataTransfer.files], group)
          }}
        >
          <h2>Photos</h2>
          <p className="second">
            Drop them here, paste them, or{' '}
            <button type="button" onClick={() => file.current?.click()}>
              choose files
            </button>
          </p>
          <p className="second">JPEG, PNG or WebP. What they hold besides the picture, such as where it was taken, is left behind.</p>
          <input
            ref={file}
            id="photos"
            type="file"
            aria-label="Photos"
            multiple
            hidden
            accept="image/*"
            onChange={(e) => {
              void send([...(e.target.files ?? [])], group)
              e.target.value = ''
            }}
          />
          <div className="d-flex align-items-center gap-2 px-3 pb-2">
            <Form.Label htmlFor="photo-group" className="mb-0 text-nowrap">
              New ones show
            </Form.Label>
            <Form.Select id="photo-group" value={group} onChange={(e) => setGroup(e.target.value)}>
              {groups.map((g) => (
                <option key={g.key} value={g.key}>
                  {g.title}
                </option>
              ))}
            </Form.Select>
          </div>
          <Uploads sending={sending} onDrop={drop} />
        </section>
        {list.length > 0 && (
          <ul className="sheet thumbs">
            {groups
              .map((g) => ({ ...g, photos: list.filter((p) => p.group === g.key) }))
              .flatMap((g) =>
                g.photos.map((p, at) => (
                  <li
                    key={p.id}
                    draggable
                    onDragStart={(e) => e.dataTransfer.setData('text/uvent-photo', p.id)}
                    onDragOver={(e) => e.dataTransfer.types.includes('text/uvent-photo') && e.preventDefault()}
                    onDrop={(e) => {
                      e.preventDefault()
                      void move(e.dataTransfer.getData('text/uvent-photo'), p)
                    }}
                  >
                    <button
                      type="button"
                      aria-pressed={p.id === photo?.id}
                      title={p.file_name + '; Alt with an arrow moves it'}
                      onClick={() => setChosen(p.id)}
                      onKeyDown={(e) => {
                        if (!e.altKey || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return
                        e.preventDefault()
                        const before = e.key === 'ArrowLeft' ? g.photos[at - 1] : g.photos[at + 2]
                        if (before) void move(p.id, before)
                        else if (e.key === 'ArrowRight' && g.photos[at + 1]) order.mutate([...list.filter((o) => o !== p), p])
                      }}
                    >
                      <img src={`/api/photos/${p.id}/small`} alt={p.alternative || p.file_name} draggable={false} />
                      <b>{g.title}</b>
                      <span>{remarks(p)}</span>
                    </button>
                  </li>
                )),
              )}
          </ul>
        )}
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
          <Button onClick={() => file.current?.click()}>Choose files</Button>
        </div>
      )}
    </div>
  )
}

// remarks are what to know of a photo at a glance.
function remarks(p: Photo): string {
  const faults = p.fits.reduce((n, f) => n + f.faults.length, 0)
  return [p.shared && 'client’s', p.blurred && 'blurred', p.like && 'twice', faults > 0 && counted(faults, 'fault')]
    .filter(Boolean)
    .join(' · ')
}
