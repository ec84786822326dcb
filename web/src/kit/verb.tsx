import { hashKey, useMutation, useQueryClient, type UseMutationResult } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Button, type ButtonProps } from 'react-bootstrap'
import { Refusal } from '../api/client'
import { useSay } from '../app/say'

export type Verb<R, V> = UseMutationResult<R, Error, V>

// useVerb is one thing that a person does: it asks the server, has read anew what that changes, says
// at the foot of the view what was done, and offers to undo it. Why it was not done stands in error,
// for the place where it was asked; `tells` says it at the foot, where there is no such place.
export function useVerb<R, V = void>(verb: {
  does: (v: V) => Promise<R>
  // The names of the queries that it changes, which are read anew before `then`; all of them are read
  // meanwhile.
  changes?: string[] | 'all'
  then?: (answer: R, v: V) => void
  failed?: (e: Error, v: V) => void
  says?: (answer: R, v: V) => string | undefined
  // Undoing may say what came of it; otherwise it is said that all is as before.
  undo?: (answer: R, v: V) => Promise<string | void>
  tells?: boolean
}): Verb<R, V> {
  const queries = useQueryClient()
  const say = useSay()
  const fresh = async () => {
    if (verb.changes === 'all') return void queries.invalidateQueries()
    await Promise.all((verb.changes ?? []).map((name) => queries.invalidateQueries({ queryKey: [name] })))
  }
  const takeBack = async (answer: R, v: V) => {
    try {
      say((await verb.undo!(answer, v)) ?? 'It is as it was before.')
    } catch (e) {
      say(`It was not undone. ${reason(e as Error)}`)
    }
    await fresh()
  }
  return useMutation({
    mutationFn: verb.does,
    onSuccess: async (answer, v) => {
      await fresh()
      verb.then?.(answer, v)
      const words = verb.says?.(answer, v)
      if (words) say(words, verb.undo && (() => void takeBack(answer, v)))
    },
    onError: (e, v) => {
      void fresh() // it may have failed because what is shown is old
      if (verb.tells) say(reason(e))
      verb.failed?.(e, v)
    },
  })
}

// Do is the button that does a verb. It cannot be pressed while the verb runs, and says that it does.
export function Do<R, V>({
  verb,
  of,
  running,
  disabled,
  children,
  ...button
}: { verb: Verb<R, V>; of: NoInfer<V>; running?: ReactNode; children: ReactNode } & Omit<ButtonProps, 'onClick'>) {
  const runs = verb.isPending && hashKey([verb.variables]) === hashKey([of])
  return (
    <Button {...button} disabled={disabled || verb.isPending} onClick={() => verb.mutate(of)}>
      {runs && running ? running : children}
    </Button>
  )
}

// reason is why something was not done, with what is wrong with each field, where it says no more.
export function reason(e: Error): string {
  if (!(e instanceof Refusal)) return e.message
  const bare = (text: string) => text.toLowerCase().replace(/\.$/, '')
  const more = e.fields.map((f) => f.message).filter((m) => !bare(e.message).includes(bare(m)))
  return more.length === 0 ? e.message : `${e.message.replace(/\.$/, '')}: ${more.join('; ').replace(/\.$/, '')}.`
}

// wrongWith is what is wrong with one field of what was asked for.
export function wrongWith(error: Error | null, path: string): string | undefined {
  return error instanceof Refusal ? error.fields.find((f) => f.path === path)?.message : undefined
}

// Failed says why what was asked for was not done, where it was asked.
export function Failed({ error }: { error: Error | null }) {
  if (!error) return null
  return (
    <p className="wrong mx-3" role="alert">
      {reason(error)}
    </p>
  )
}
