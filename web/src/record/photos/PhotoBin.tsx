import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState, type RefObject } from 'react'
import { Form } from 'react-bootstrap'
import type { Schemas } from '../../api/client'
import { useFacts } from '../../api/queries'
import { Options } from '../../kit/options'
import { Uploads, useUploads } from '../../app/Uploads'
import type { Whose } from '../held'

// PhotoBin takes photos in: dropped, pasted or chosen.
export function PhotoBin({
  query,
  groups,
  picker,
  onAdded,
}: {
  query: Whose
  groups: Schemas['Column'][]
  picker: RefObject<HTMLInputElement | null>
  onAdded: (id: string) => void
}) {
  const bytes = useFacts().data?.photo_bytes
  const queries = useQueryClient()
  const [group, setGroup] = useState('exterior')
  const [over, setOver] = useState(false)
  const { sending, send, drop } = useUploads<Schemas['Photo']>(bytes, (added) => {
    onAdded(added.id)
    void queries.invalidateQueries({ queryKey: ['photos'] })
  })
  const take = (files: Iterable<File>) =>
    void send([...files], '/api/photos?' + new URLSearchParams(query as Record<string, string>).toString(), { group })
  usePasted(take)
  return (
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
        take(e.dataTransfer.files)
      }}
    >
      <h2>Photos</h2>
      <p className="second">
        Drop them here, paste them, or{' '}
        <button type="button" onClick={() => picker.current?.click()}>
          choose files
        </button>
      </p>
      <p className="second">
        JPEG, PNG, WebP, or HEIC and AVIF as phones make them, which are kept as JPEG. What they hold besides the picture, such as where it
        was taken, is left behind.
      </p>
      <input
        ref={picker}
        id="photos"
        type="file"
        aria-label="Photos"
        multiple
        hidden
        accept="image/*,.heic,.avif"
        onChange={(e) => {
          take(e.target.files ?? [])
          e.target.value = ''
        }}
      />
      <div className="d-flex align-items-center gap-2 px-3 pb-2">
        <Form.Label htmlFor="photo-group" className="mb-0 text-nowrap">
          New ones show
        </Form.Label>
        <Form.Select id="photo-group" value={group} onChange={(e) => setGroup(e.target.value)}>
          <Options of={groups} />
        </Form.Select>
      </div>
      <Uploads sending={sending} onDrop={drop} />
    </section>
  )
}

// usePasted takes in files that are pasted anywhere in the view.
function usePasted(take: (files: File[]) => void) {
  const latest = useRef(take)
  useEffect(() => {
    latest.current = take
  })
  useEffect(() => {
    const onPaste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])]
      if (files.length === 0) return
      e.preventDefault()
      latest.current(files)
    }
    window.addEventListener('paste', onPaste)
    return () => window.removeEventListener('paste', onPaste)
  }, [])
}
