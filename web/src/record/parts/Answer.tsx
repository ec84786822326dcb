import type { Schemas } from '../../api/client'

// Answer is what an address said when it was asked.
export function Answer({ answers, address }: { answers?: Schemas['LinkAnswer'][]; address: string }) {
  const a = answers?.find((x) => x.address === address)
  if (!a || !address) return null
  return <span className={a.good ? 'link-answer' : 'link-answer wrong-text'}>{a.says}</span>
}
