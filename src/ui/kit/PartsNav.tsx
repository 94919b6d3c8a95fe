import Link from 'next/link'

/** The surfaces of a stop on the line, one beside the other. */
export function PartsNav({
  of,
  parts,
  at,
}: {
  of: string
  parts: readonly (readonly [id: string, href: string, name: string])[]
  at: string
}) {
  return (
    <nav aria-label={`Parts of ${of}`} className="flex flex-wrap gap-1">
      {parts.map(([id, href, name]) => (
        <Link
          key={id}
          href={href}
          aria-current={id === at ? 'page' : undefined}
          className={`px-2 py-1 ${id === at ? 'border-b-2 border-act font-semibold' : 'text-soft hover:text-act'}`}
        >
          {name}
        </Link>
      ))}
    </nav>
  )
}
