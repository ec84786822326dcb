import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import type { Scope } from '../app/place'
import { useSay } from '../app/say'
import { counted } from '../app/View'

type Choice = Schemas['Choices']['choices'][number]

// useChoose decides which listings are wanted; what was decided before is a press away.
export function useChoose() {
  const queries = useQueryClient()
  const say = useSay()
  const send = (choices: Choice[]) => told(api.POST('/api/choices', { body: { choices } }))
  return useMutation({
    mutationFn: ({ choices }: { choices: Choice[]; says: string }) => send(choices),
    onSuccess: (before, { says }) => {
      void queries.invalidateQueries()
      say(says, () => {
        void send(before.choices)
          .then(() => queries.invalidateQueries())
          .catch((e: Error) => say(e.message))
      })
    },
    onError: (e) => say(e.message),
  })
}

// everyLocation lists the ids of all locations in a scope, page by page.
async function everyLocation(scope: Scope): Promise<Schemas['CoverageRow'][]> {
  const rows: Schemas['CoverageRow'][] = []
  for (;;) {
    const answer = await told(
      api.GET('/api/coverage', { params: { query: { client: scope.client, location: scope.location, past: rows.length, most: 200 } } }),
    )
    rows.push(...answer.rows)
    if (answer.rows.length === 0 || rows.length >= answer.locations) return rows
  }
}

// ChooseColumn is a directory's name over its column, and what can be chosen for all of it.
export function ChooseColumn({ directory: d, scope }: { directory: Schemas['Directory']; scope: Scope }) {
  const choose = useChoose()
  const all = async (wanted: boolean | undefined, words: string) => {
    const rows = (await everyLocation(scope)).filter((r) => !r.fits[d.id]?.not)
    if (rows.length === 0) return
    choose.mutate({
      choices: rows.map((r) => ({ location: r.location, directory: d.id, wanted })),
      says: `${d.name} is ${words} for ${counted(rows.length, 'location')}.`,
    })
  }
  return (
    <Dropdown>
      <Dropdown.Toggle as="button" type="button" className="column-name" title={`${d.name}: ${d.kind}`} disabled={choose.isPending}>
        {d.name}
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={{ strategy: 'fixed' }}>
        <Dropdown.Header>{d.name} for all locations here</Dropdown.Header>
        <Dropdown.Item onClick={() => void all(true, 'wanted')}>Want it</Dropdown.Item>
        <Dropdown.Item onClick={() => void all(false, 'not wanted')}>Do without it</Dropdown.Item>
        <Dropdown.Item onClick={() => void all(undefined, 'as reckoned')}>As reckoned for each</Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item as={Link} to={`/directories?directory=${d.id}`}>
          Its rulebook
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  )
}
