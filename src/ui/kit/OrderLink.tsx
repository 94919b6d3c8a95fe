import Link from 'next/link'

/** The number of an order, which leads to it on the Desk. */
export const OrderLink = ({ id, number }: { id: number; number: string }) => (
  <Link
    className="font-mono text-small text-act underline decoration-hair underline-offset-4"
    href={`/desk?order=${id}&q=${encodeURIComponent(number)}`}
  >
    {number}
  </Link>
)
