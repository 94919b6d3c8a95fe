/** A box to tick, with its label. */
export const Tick = ({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) => (
  <label className="flex min-h-[24px] items-center gap-1.5">
    <input
      type="checkbox"
      checked={on}
      onChange={(event) => onChange(event.target.checked)}
      className="size-4 accent-[var(--act)]"
    />
    {label}
  </label>
)
