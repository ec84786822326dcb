// Switch chooses one of a few ways to look.
export function Switch({
  label,
  value,
  options,
  onChange,
}: {
  label: string
  value: string
  options: [string, string][]
  onChange: (v: string) => void
}) {
  return (
    <div className="btn-group" role="group" aria-label={label}>
      {options.map(([id, words]) => (
        <button
          key={id}
          type="button"
          className={'btn btn-outline-secondary' + (value === id ? ' active' : '')}
          aria-pressed={value === id}
          onClick={() => onChange(id)}
        >
          {words}
        </button>
      ))}
    </div>
  )
}
