// browser names a browser and its system as people do.
export function browser(agent: string): string {
  const name = ['Firefox', 'Edg', 'Chrome', 'Safari'].find((n) => agent.includes(n + '/'))
  const system = ['Windows', 'Mac OS', 'Android', 'iPhone', 'Linux'].find((n) => agent.includes(n))
  return `${{ Edg: 'Edge' }[name ?? ''] ?? name ?? 'A browser'}${system ? ' on ' + system : ''}`
}
