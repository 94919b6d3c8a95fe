import Link from 'next/link'

export default function NotFound() {
  return (
    <main className="mx-auto max-w-xl p-10">
      <h1 className="text-title">There is no such page</h1>
      <p className="mt-2 text-soft">The address may be mistyped, or what it led to is gone.</p>
      <p className="mt-4">
        <Link className="text-act underline" href="/desk">
          Go to the Desk
        </Link>
      </p>
    </main>
  )
}
