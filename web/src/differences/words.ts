// people says a number of people as people do who have only reckoned it.
export function people(n: number): string {
  if (n >= 9.5) return `about ${Math.round(n / 5) * 5} people`
  if (n >= 1.5) return `about ${Math.round(n)} people`
  if (n >= 0.8) return 'about one person'
  return 'hardly anybody'
}

// misled says whom a difference misleads: every week, and on its dates.
export function misled({ people: weekly, once }: { people: number; once: number }): string {
  const said: string[] = []
  if (weekly >= 0.8) said.push(`${people(weekly)} a week`)
  else if (weekly * 52 >= 1.5) said.push(`${people(weekly * 52)} a year`)
  if (once >= 0.8) said.push(`${people(once)} on those days`)
  const text = said.join(', and ') || 'hardly anybody'
  return text[0]!.toUpperCase() + text.slice(1) + '.'
}
