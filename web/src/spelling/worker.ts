import nspell from 'nspell'
import aff from '../../node_modules/dictionary-en/index.aff?url&no-inline'
import dic from '../../node_modules/dictionary-en/index.dic?url&no-inline'
import affCA from '../../node_modules/dictionary-en-ca/index.aff?url&no-inline'
import dicCA from '../../node_modules/dictionary-en-ca/index.dic?url&no-inline'
import { check, type Question } from './check'

// The dictionaries ship with the application and are read when they are first
// wanted, away from the page's own work.
const files = { US: [aff, dic], CA: [affCA, dicCA] } as const

const read: Partial<Record<keyof typeof files, Promise<ReturnType<typeof nspell>>>> = {}

async function speller(country: string) {
  const which = country === 'CA' ? 'CA' : 'US'
  read[which] ??= Promise.all(files[which].map((f) => fetch(f).then((r) => r.text()))).then(([a = '', d = '']) => nspell(a, d))
  return read[which]
}

self.onmessage = async (e: MessageEvent<Question>) => {
  const spell = await speller(e.data.country)
  self.postMessage({
    id: e.data.id,
    findings: check(
      e.data,
      (w) => spell.correct(w),
      (w) => spell.suggest(w),
    ),
  })
}
