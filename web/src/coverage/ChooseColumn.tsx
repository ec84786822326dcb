import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import type { Scope } from '../app/place'
import { counted } from '../app/View'
import { useVerb } from '../kit/verb'

type Choice = Schemas['Choices']['choices'][number]

// Chosen are choices, or how they are found out, and what is said of so many.
type Chosen = { choices: Choice[] | (() => Promise<Choice[]>); says: (count: number) => string }

// useChoose decides which listings are wanted; what was decided before is a press away.
export function useChoose() {
  const send = (choices: Choice[]) => told(api.POST('/api/choices', { body: { choices } }))
  return useVerb({
    does: async ({ choices }: Chosen) => send(typeof choices === 'function' ? await choices() : choices),
    changes: 'all',
    says: (before, { says }) => says(before.choices.length),
    undo: async (before) => {
      await send(before.choices)
      return 'What is wanted is as it was before.'
    },
    tells: true,
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
  const all = (wanted: boolean | undefined, words: string) =>
    choose.mutate({
      choices: async () =>
        (await everyLocation(scope)).filter((r) => !r.fits[d.id]?.not).map((r) => ({ location: r.location, directory: d.id, wanted })),
      says: (n) => `${d.name} is ${words} for ${counted(n, 'location')}.`,
    })
  return (
    <Dropdown>
      <Dropdown.Toggle as="button" type="button" className="column-name" title={`${d.name}: ${d.kind}`} disabled={choose.isPending}>
        {d.name}
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={{ strategy: 'fixed' }}>
        <Dropdown.Header>{d.name} for all locations here</Dropdown.Header>
        <Dropdown.Item onClick={() => all(true, 'wanted')}>Want it</Dropdown.Item>
        <Dropdown.Item onClick={() => all(false, 'not wanted')}>Do without it</Dropdown.Item>
        <Dropdown.Item onClick={() => all(undefined, 'as reckoned')}>As reckoned for each</Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item as={Link} to={`/directories?directory=${d.id}`}>
          Its rulebook
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  )
}
