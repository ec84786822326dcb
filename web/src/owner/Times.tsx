import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { api, told } from '../api/client'
import { Do, Failed, useVerb } from '../kit/verb'
import { asked, type Doing } from './labels'

// shownDays are how many days' times are shown at first, and shownTimes how many of each.
const shownDays = 2
const shownTimes = 6

// spread takes some of a day's times, from the first to the last.
const spread = (times: string[], n: number) =>
  times.length <= n ? times : Array.from({ length: n }, (_, i) => times[Math.round((i * (times.length - 1)) / (n - 1))])

// Times offers when to be called: a few of them over the next days, and all where one asks.
export function Times(d: Doing) {
  const { thing: t, page, say, then } = d
  const choose = useVerb({
    does: (at: string) => told(api.POST('/api/owner/{secret}/things/{thing}/time', { params: asked(d), body: { at } })),
    then: (after) => {
      setShown(false)
      then(after)
    },
  })
  const [shown, setShown] = useState(t.state !== 'waiting')
  const [all, setAll] = useState(false)
  const day = new Intl.DateTimeFormat(page.language === 'fr' ? 'fr-CA' : 'en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: t.zone,
  })
  const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: t.zone })
  const days = new Map<string, string[]>()
  for (const at of t.times) {
    const d = day.format(new Date(at))
    days.set(d, [...(days.get(d) ?? []), at])
  }
  if (!shown)
    return (
      <p>
        <Button variant="outline-secondary" onClick={() => setShown(true)}>
          {say('another_time')}
        </Button>
      </p>
    )
  const offered = all ? [...days] : [...days].slice(0, shownDays).map(([d, times]) => [d, spread(times, shownTimes)] as const)
  const left = t.times.length - offered.reduce((n, [, times]) => n + times.length, 0)
  return (
    <>
      <Failed error={choose.error} />
      {offered.map(([d, times]) => (
        <fieldset key={d}>
          <legend>{d}</legend>
          <div className="owner-times">
            {times.map((at) => (
              <Do key={at} verb={choose} of={at!} variant={at === t.call_at ? 'primary' : 'outline-secondary'}>
                {clock.format(new Date(at!))}
              </Do>
            ))}
          </div>
        </fieldset>
      ))}
      {left > 0 && (
        <p>
          <Button variant="link" className="p-0 owner-link" onClick={() => setAll(true)}>
            {say('more_times')}
          </Button>
        </p>
      )}
    </>
  )
}
