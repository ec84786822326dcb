// Failed says why what was asked for was not done, where it was asked.
export function Failed({ error }: { error: Error | null }) {
  if (!error) return null
  return (
    <p className="wrong mx-3" role="alert">
      {error.message}
    </p>
  )
}
