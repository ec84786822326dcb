import { useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { useNavigate, useParams } from 'react-router'
import { api, told } from '../api/client'
import { usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { ViewHead } from '../app/View'
import { Failed, useVerb } from '../kit/verb'
import { ImportPreview } from './ImportPreview'

// ImportView brings locations in from a CSV: choose the file, look at what it
// would do, then bring it in. The file is kept by the server meanwhile.
export function ImportView() {
  const { import: id } = useParams()
  return id ? <ImportPreview id={id} /> : <Choose />
}

function Choose() {
  const { scope } = usePlace()
  const name = useScopeName(scope)
  const picker = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const navigate = useNavigate()
  const send = useVerb({
    does: (file: File) => {
      const body = new FormData()
      if (scope.client) body.append('client', scope.client)
      body.append('file', file)
      return told(api.POST('/api/imports', { body: body as never, bodySerializer: (b) => b as never }))
    },
    then: (i) => navigate(`/record/import/${i.id}`),
  })
  return (
    <>
      <ViewHead
        title="Bring in a CSV"
        says={
          name
            ? `Rows that name no client go to ${name}.`
            : 'Each row is a location; a column names its client. Nothing is changed before you have seen what would be.'
        }
      />
      <Failed error={send.error} />
      <div
        className={'drop' + (over ? ' over' : '')}
        onDragOver={(e) => {
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault()
          setOver(false)
          const file = e.dataTransfer.files[0]
          if (file) send.mutate(file)
        }}
      >
        <p>Drop a file here, in UTF-8, with commas, semicolons or tabs; the first line names the columns.</p>
        <input
          ref={picker}
          id="csv"
          type="file"
          className="visually-hidden"
          accept=".csv,.tsv,.txt,text/csv,text/tab-separated-values"
          aria-label="CSV file"
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) send.mutate(file)
            e.target.value = ''
          }}
        />
        <Button onClick={() => picker.current?.click()} disabled={send.isPending}>
          {send.isPending ? 'Reading' : 'Choose a file'}
        </Button>
      </div>
    </>
  )
}
