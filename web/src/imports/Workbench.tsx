import { useRef } from 'react'
import { Button, Dropdown, ProgressBar } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link } from 'react-router'
import { useFacts } from '../api/queries'
import { pathOf } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { Do, Failed } from '../kit/verb'
import { Folds } from './Folds'
import { Rows } from './Rows'
import { Together } from './Together'
import { Bench, comesIn, underWay, useAlike, useEdits, useImport, type Import } from './work'

// Workbench is a file on its way in: what it would do, what needs somebody, and each row.
export function Workbench({ id }: { id: string }) {
  const found = useImport(id)
  const facts = useFacts()
  const alike = useAlike(id)
  const edits = useEdits(id)
  if (!found.data || !facts.data) return <Pending error={found.error ?? facts.error} />
  const i = found.data
  const titles = Object.fromEntries(facts.data.columns.map((c) => [c.key, c.title]))
  return (
    <Bench value={{ import: i, edit: edits.edit, titles, alike: alike.data ?? [] }}>
      <Head import={i} edits={edits} />
      <Failed error={edits.bringIn.error ?? edits.takeBack.error} />
      {i.trouble && (
        <p className="wrong" role="alert">
          {i.trouble}
        </p>
      )}
      {underWay(i) && <UnderWay import={i} />}
      {i.state !== 'failed' && i.state !== 'reading' && (
        <>
          {i.state === 'ready' && <Folds columns={facts.data.columns} />}
          {(i.state === 'ready' || i.counts.by.waits) && <Together />}
          <Rows />
        </>
      )}
    </Bench>
  )
}

const backTo = (i: Import) => (i.client ? pathOf('record', { client: i.client }) : '/record')

function Head({ import: i, edits }: { import: Import; edits: ReturnType<typeof useEdits> }) {
  const good = comesIn(i)
  const rest = (i.counts.by.decide ?? 0) + (i.counts.by.waits ?? 0) + (i.counts.by.out ?? 0) + i.counts.without
  const bring = useRef<HTMLButtonElement>(null)
  const open = i.state === 'ready' || i.state === 'in'
  const name = i.file_name.replace(/\.[^.]*$/, '')
  useHotkeys('s', () => bring.current?.click(), { useKey: true, enabled: open && good > 0 })
  return (
    <ViewHead title={i.state === 'in' ? `“${i.file_name}” is in` : `Bringing in “${i.file_name}”`} says={<Says import={i} />}>
      {i.state === 'ready' && i.edits > 0 && (
        <Do verb={edits.undo} of={undefined} variant="outline-secondary" title="Undo what was said last">
          Undo
        </Do>
      )}
      {rest > 0 && open && (
        <Dropdown>
          <Dropdown.Toggle variant="outline-secondary">
            {i.counts.without > 0 ? `${counted(rest, 'row')} to mend as a file` : `The other ${rest} as a file`}
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item href={`/api/imports/${i.id}/rest.xlsx`} download={`mend ${name}.xlsx`}>
              As a spreadsheet
            </Dropdown.Item>
            <Dropdown.Item href={`/api/imports/${i.id}/rest.csv`} download={`mend ${name}.csv`}>
              As CSV
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      )}
      {open && i.counts.in > 0 && (
        <Do verb={edits.takeBack} of={undefined} running="Taking back" variant="outline-secondary">
          Take back
        </Do>
      )}
      {i.state === 'in' && (
        <Link className={'btn ' + (good > 0 ? 'btn-outline-secondary' : 'btn-primary')} to={backTo(i)}>
          See the locations
        </Link>
      )}
      {i.state === 'failed' && (
        <Link className="btn btn-primary" to={i.client ? `${backTo(i)}/import` : '/record/import'}>
          Choose another file
        </Link>
      )}
      {open && (good > 0 || i.state === 'ready') && (
        <Button ref={bring} disabled={good === 0 || edits.bringIn.isPending || edits.edit.isPending} onClick={() => edits.bringIn.mutate()}>
          {edits.bringIn.isPending ? 'Bringing in' : good === 0 ? 'Nothing new' : `Bring in ${good} `}
          {good > 0 && !edits.bringIn.isPending && <kbd>s</kbd>}
        </Button>
      )}
    </ViewHead>
  )
}

// Says tells how the rows stand, in a sentence.
function Says({ import: i }: { import: Import }) {
  const b = i.counts.by
  const of = (n: number | undefined, one: string, many: string) => n && `${n} ${n === 1 ? one : many}`
  if (i.state === 'reading' || i.state === 'failed') return null
  const parts = [
    of(i.counts.in, 'is in', 'are in'),
    of(comesIn(i), 'comes in', 'come in'),
    of(b.decide, 'is for you to decide', 'are for you to decide'),
    of(b.waits, 'waits', 'wait'),
    of(b.unchanged, 'says what we have', 'say what we have'),
    of(b.twice, 'is said twice', 'are said twice'),
    of(b.out, 'is left out', 'are left out'),
    of(i.skipped.length, 'is no business', 'are no business'),
  ]
  const ends =
    i.counts.in > 0
      ? i.counts.in_changed > 0
        ? ` ${i.counts.in_changed} of them changed ours.`
        : ''
      : comesIn(i) === 0 && !b.decide && !b.waits
        ? ' Nothing new.'
        : ' Nothing is in yet.'
  return (
    <>
      {`${counted(i.rows + i.skipped.length, 'row')}: ${parts.filter(Boolean).join(', ')}.${ends}`}
      {i.counts.in === 0 && i.clients.length > 0 && ` ${counted(i.clients.length, 'client')} would be added: ${few(i.clients)}.`}
    </>
  )
}

const few = (names: string[]) => names.slice(0, 4).join(', ') + (names.length > 4 ? ` and ${names.length - 4} more` : '')

const doing: Partial<Record<Import['state'], string>> = { reading: 'Reading', bringing: 'Bringing in', taking_back: 'Taking back' }

function UnderWay({ import: i }: { import: Import }) {
  const all = i.state === 'bringing' ? comesIn(i) + i.counts.in : i.rows
  return (
    <div className="sheet under-way" role="status">
      <p>
        {doing[i.state]}
        {all > 0 && i.state !== 'taking_back'
          ? `: ${i.done.toLocaleString('en')} of ${counted(all, 'row').replace(/^\d+/, all.toLocaleString('en'))}`
          : ''}
        . <span className="second">You can leave this page; it goes on by itself.</span>
      </p>
      <ProgressBar
        now={all > 0 && i.state !== 'taking_back' ? (100 * i.done) / all : 100}
        animated={i.state === 'taking_back'}
        aria-label={doing[i.state]}
      />
    </div>
  )
}
