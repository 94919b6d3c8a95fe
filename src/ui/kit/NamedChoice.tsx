import { Select } from './Field'

/** One of things that have names: by identifier, in their order. */
export function NamedChoice({
  of,
  value,
  onChange,
  autoFocus = false,
}: {
  of: Readonly<Record<string, string>>
  value: string
  onChange: (next: string) => void
  autoFocus?: boolean
}) {
  return (
    <Select autoFocus={autoFocus} className="w-full" value={value} onChange={(event) => onChange(event.target.value)}>
      {Object.entries(of).map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </Select>
  )
}
