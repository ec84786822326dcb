import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Rec, type Schemas } from '../../api/client'
import { useDirectories, useRegions } from '../../api/queries'
import { Needs } from '../../app/Needs'
import { save } from '../../app/save'
import { useSay } from '../../app/say'
import { upload } from '../../app/upload'
import { counted } from '../../app/View'
import { Map } from '../../map/Map'
import { Do, Failed, useVerb } from '../../kit/verb'
import { useHeld } from '../held'

const most = 120

// reckoned is the question what an area of a record comes to; the same question is
// asked once.
function reckoned(r: Rec, area: Rec['area']) {
  const question = {
    pin: r.pin,
    town: r.address.locality,
    minutes: area.minutes,
    with: area.towns.filter((t) => t.by_hand).map((t) => t.name),
    without: area.without,
  }
  return { queryKey: ['area', question], queryFn: () => told(api.POST('/api/area', { body: question })) }
}

// useReckoned reckons the area of a record as it is being chosen.
export const useReckoned = (r: Rec) =>
  useQuery({
    ...reckoned(r, r.area),
    enabled: !!r.pin && Number.isFinite(r.pin.latitude) && Number.isFinite(r.pin.longitude),
    placeholderData: keepPreviousData,
  }).data

// Area is the service area: the towns within a travel time of the pin, and those
// taken in or left out by hand.
export function Area() {
  const { record: r, set } = useHeld()
  const answer = useReckoned(r)
  const queries = useQueryClient()
  const wanted = useRef<Rec['area']>(undefined)
  const say = useSay()
  // The towns of a new travel time are taken over when they are reckoned.
  const change = async (area: Rec['area']) => {
    wanted.current = area
    set({ area })
    try {
      const next = await queries.fetchQuery(reckoned(r, area))
      if (wanted.current === area) set({ area: next.area })
    } finally {
      if (wanted.current === area) wanted.current = undefined
    }
  }
  // A town keeps its row while the area without it, or with it, is being reckoned.
  const known = answer ? [...answer.area.towns, ...answer.others] : []
  const all = [
    ...r.area.towns.map((t) => ({ ...t, within: true })),
    ...known.filter((o) => !r.area.towns.some((t) => t.name === o.name)).map((t) => ({ ...t, within: false })),
  ].sort((a, b) => b.population - a.population || a.name.localeCompare(b.name))
  const toggle = (name: string) => {
    const area = { ...(wanted.current ?? r.area) }
    const inside = area.towns.find((t) => t.name === name)
    if (inside) {
      area.towns = area.towns.filter((t) => t.name !== name)
      if (!inside.by_hand) area.without = [...area.without, name]
    } else {
      const town = known.find((t) => t.name === name)
      if (!town) return
      const left = area.without.includes(name)
      area.without = area.without.filter((n) => n !== name)
      area.towns = [...area.towns, { ...town, by_hand: !left }]
    }
    void change(area)
  }
  const people = r.area.towns.reduce((n, t) => n + t.population, 0)
  const bring = async (file?: File) => {
    if (!file) return
    try {
      const area = await told(api.POST('/api/area/read', { body: { text: await file.text() } }))
      await change(area)
      say(`${counted(area.towns.length, 'town')} read from ${file.name}. Save the record to keep them.`)
    } catch (e) {
      say((e as Error).message)
    }
  }
  if (!r.pin) {
    return (
      <section className="sheet">
        <h2>Service area</h2>
        <p className="second">Travel is reckoned from the pin. Set it first, under Contact; then choose how far this location goes.</p>
      </section>
    )
  }
  return (
    <>
      <section className="sheet">
        <div className="sheet-head">
          <h2>Service area</h2>
          <span className="second">
            {r.area.towns.length === 0
              ? 'no towns yet'
              : `${counted(r.area.towns.length, 'town')}, ${people.toLocaleString('en-US')} people`}
          </span>
        </div>
        {r.kind === 'premises' && (
          <p className="second">This location’s customers come to it. An area is for those that go to their customers.</p>
        )}
        <div className="minutes">
          <label htmlFor="area-minutes">Travel time from the pin</label>
          <Form.Range
            id="area-minutes"
            min={0}
            max={most}
            step={5}
            value={Math.min(r.area.minutes, most)}
            onChange={(e) => void change({ ...r.area, minutes: Number(e.target.value) })}
          />
          <output htmlFor="area-minutes" className="mono">
            {r.area.minutes === 0 ? 'by hand' : `${r.area.minutes} min`}
          </output>
        </div>
        <Map label="Map of the service area" height={370} pin={r.pin} towns={all} outline={answer?.outline} onTown={toggle} />
        <p className="second map-says">
          {answer && !answer.by_road
            ? `No roads are known near the pin: reckoned in a straight line at ${answer.speed_kmh} km/h.`
            : 'By road, at each road’s own speed. A click on a town takes it in or leaves it out.'}
        </p>
      </section>
      <section className="sheet">
        <div className="sheet-head">
          <h2>Towns</h2>
          <span>
            <label className="btn btn-link p-0 me-3">
              Bring in
              <input id="area-file" type="file" hidden accept=".geojson,.json" onChange={(e) => void bring(e.target.files?.[0])} />
            </label>
            {answer && (
              <Button variant="link" className="p-0" onClick={() => save('service-area.geojson', 'application/geo+json', answer.geojson)}>
                Take out GeoJSON
              </Button>
            )}
          </span>
        </div>
        {all.length === 0 && <p className="second">No towns are known around here. Bring a region in below.</p>}
        {all.length > 0 && <Towns towns={all} onToggle={toggle} />}
      </section>
      <Regions />
    </>
  )
}

function Towns({ towns, onToggle }: { towns: (Schemas['Town'] & { within: boolean })[]; onToggle: (name: string) => void }) {
  return (
    <table className="grid towns">
      <thead>
        <tr>
          <th scope="col">Town</th>
          <th scope="col" className="num">
            People
          </th>
          <th scope="col" className="num">
            Minutes
          </th>
          <th scope="col" />
          <th scope="col" />
        </tr>
      </thead>
      <tbody>
        {towns.map((t) => (
          <tr key={t.name} className={t.within ? '' : 'away'}>
            <th scope="row">{t.name}</th>
            <td className="num mono">{t.population.toLocaleString('en-US')}</td>
            <td className="num mono">{t.minutes > 0 ? Math.round(t.minutes) : ''}</td>
            <td>{t.within ? (t.by_hand ? 'in, by hand' : 'in') : 'not in'}</td>
            <td className="acts-cell">
              <Button
                variant="link"
                size="sm"
                aria-label={`${t.within ? 'Leave out' : 'Take in'} ${t.name}`}
                onClick={() => onToggle(t.name)}
              >
                {t.within ? 'Leave out' : 'Take in'}
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

// AreaTaken says what each directory does with the area.
export function AreaTaken() {
  const { record: r } = useHeld()
  const directories = useDirectories().data ?? []
  const n = r.area.towns.length
  return (
    <section className="sheet">
      <h2>What directories can do with this area</h2>
      <ul className="plain-list">
        {directories.map((d) => (
          <li key={d.id}>
            <b>{d.name}</b>
            <span>
              {d.limits.areas === 0
                ? 'Has no field for towns; they are worked into the description.'
                : n > d.limits.areas
                  ? `Takes ${d.limits.areas} towns: the largest ${d.limits.areas} of the ${n} go.`
                  : `Takes up to ${d.limits.areas} towns${n > 0 ? ': all go' : ''}.`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

const sizeOf = (r: Schemas['Region']) =>
  `${counted(r.towns, 'town')}, ${counted(r.roads, 'stretch', 'stretches')} of road` +
  (r.unknown > 0 ? `; of ${counted(r.unknown, 'town')} it is not said how many live there` : '')

// Regions are the stretches of country that are known; more can be brought in.
function Regions() {
  const regions = useRegions().data ?? []
  const file = useRef<HTMLInputElement>(null)
  const [opened, setOpen] = useState<boolean>()
  const open = opened ?? (regions.length === 0 || regions.some((r) => r.state !== 'ready'))
  const changes = ['regions', 'map', 'area']
  const [sent, setSent] = useState<number>()
  const add = useVerb({
    does: async (f: File) => {
      if (/\.(geo)?json$/i.test(f.name))
        return told(api.POST('/api/regions', { body: { name: f.name.replace(/\.(geo)?json$/i, ''), text: await f.text() } }))
      try {
        return await upload<Schemas['Region']>('/api/region-extracts', { name: f.name.replace(/(\.osm)?(\.pbf)?$/i, '') }, f, setSent)
      } finally {
        setSent(undefined)
      }
    },
    changes,
    says: (r) => (r.state === 'reading' ? `${r.name} is being read; you need not wait.` : `${r.name} is in: ${sizeOf(r)}.`),
  })
  const drop = useVerb({
    does: (id: string) => told(api.DELETE('/api/regions/{region}', { params: { path: { region: id } } })),
    changes,
  })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Roads and towns</h2>
        <span className="second">
          {regions.length === 0 ? 'none known yet: travel is reckoned in a straight line' : regions.map((r) => r.name).join(', ')}{' '}
          <Button variant="link" className="p-0" onClick={() => setOpen(!open)}>
            {open ? 'Hide' : 'Change'}
          </Button>
        </span>
      </div>
      {open && (
        <>
          <p className="second">
            A region is an extract of OpenStreetMap (.osm or .osm.pbf, of a county rather than a country), or a GeoJSON file: points with a
            name and a population are towns, lines with speed_kmh are roads, the rest is drawn.
          </p>
          <Failed error={add.error ?? drop.error} />
          <Needs what="send" shared>
            <ul className="plain-list">
              {regions.map((r) => (
                <li key={r.id} className="d-flex justify-content-between">
                  <div>
                    <b>{r.name}</b>
                    <span>{r.state === 'reading' ? 'being read' : r.state === 'failed' ? r.trouble : sizeOf(r)}</span>
                  </div>
                  <Do verb={drop} of={r.id} variant="link" size="sm">
                    Take out
                  </Do>
                </li>
              ))}
            </ul>
            <div className="px-3 pb-2">
              <Button variant="outline-secondary" onClick={() => file.current?.click()} disabled={add.isPending}>
                {sent === undefined ? 'Bring in a region' : `Sending, ${Math.round(sent * 100)} %`}
              </Button>
              <input
                ref={file}
                id="region"
                type="file"
                hidden
                accept=".geojson,.json,.osm,.pbf"
                onChange={(e) => {
                  if (e.target.files?.[0]) add.mutate(e.target.files[0])
                  setOpen(true) // what becomes of it is told here
                  e.target.value = ''
                }}
              />
            </div>
          </Needs>
        </>
      )}
    </section>
  )
}
