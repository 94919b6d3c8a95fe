'use client'
import type { OrderView } from '@/usecases/desk/showOrder'
import { CustomerTold } from './CustomerTold'
import { LettersWritten } from './LettersWritten'
import { StateMark } from '../../kit/StateMark'
import { Section } from './Section'
import { When } from '../../kit/When'

const answers: Readonly<Record<string, string>> = {
  acknowledged: 'they have it',
  refused: 'they do not send it',
  despatched: 'it left',
}

/** Who was told, and what happened, in the order of time. */
export function History({ view }: { view: OrderView }) {
  const { row } = view
  return (
    <>
      {view.posts.length > 0 && (
        <Section title="Notifications">
          {view.posts.map((post) => (
            <p key={`p${post.id}`} className="flex gap-2 py-0.5">
              <StateMark state={post.state} />{' '}
              {post.kind === 'fulfil' ? `channel: tracking number of parcel ${post.parcel}` : 'channel: taken back'}{' '}
              <span className={post.differs ? 'text-lost' : 'text-soft'}>
                {post.differs ?? post.problem ?? (post.checkedAt && 'read back, and the same')}
              </span>
            </p>
          ))}
        </Section>
      )}
      <CustomerTold view={view} />
      <LettersWritten view={view} />
      {view.handOvers.length > 0 && (
        <Section title="Handed over">
          {view.handOvers.map((one) => (
            <p key={one.id} className="flex flex-wrap gap-x-2 py-0.5">
              <StateMark state={one.state} />
              {one.kind === 'hand over' ? `papers to ${one.to}` : `taken back from ${one.to}`}
              {one.answer !== '' && <b className="font-semibold">{answers[one.answer]}</b>}
              <span className="text-soft">{one.problem ?? one.answerText}</span>
              {one.receipt && <span className="w-full truncate font-mono text-small text-soft">{one.receipt}</span>}
            </p>
          ))}
        </Section>
      )}
      <Section title="What happened">
        <p className="py-0.5 text-soft">
          Imported <When at={row.importedAt} />. Last decided <When at={view.decidedAt} /> by edition {view.edition}.
        </p>
        {view.log.map((entry, i) => (
          <p key={i} className="py-0.5">
            <span className="text-soft">
              <When at={entry.at} /> {entry.author}:
            </span>{' '}
            {entry.sentence}
          </p>
        ))}
        {view.events.map((event) => (
          <p key={event.remoteId} className="py-0.5">
            <span className="text-soft">
              <When at={event.at} /> carrier:
            </span>{' '}
            {event.text}
            {event.place && `, ${event.place}`}
          </p>
        ))}
      </Section>
    </>
  )
}
