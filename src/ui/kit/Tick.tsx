/** A box to tick, with its label. */
export const Tick = ({
  label,
  name,
  on,
  disabled,
  onChange,
}: {
  label: string
  /** What readers hear, where the label says less. */
  name?: string
  on: boolean
  disabled?: boolean
  onChange: (on: boolean) => void
}) => (
  <label className="flex min-h-[24px] items-center gap-1.5">
    <input
      type="checkbox"
      aria-label={name}
      checked={on}
      disabled={disabled}
      onChange={(event) => onChange(event.target.checked)}
      className="size-4 accent-[var(--act)]"
    />
    {label}
  </label>
)
