import type { OrderView } from '@/usecases/desk/showOrder'
import { StateMark } from '../../kit/StateMark'
import { When } from '../../kit/When'
import { Section } from './Section'

/** What people wrote to the buyer, and whether it was answered. */
export function LettersWritten({ view }: { view: OrderView }) {
  if (view.letters.length === 0) return null
  return (
    <Section title="Written to the buyer">
      {view.letters.map((letter) => (
        <details key={letter.id} className="py-0.5">
          <summary className="cursor-pointer">
            <StateMark state={letter.state} /> {letter.about}{' '}
            <span className="text-soft">
              {letter.author}, <When at={letter.sentAt ?? letter.madeAt} />
              {letter.state === 'sent' && (letter.answeredAt ? ', answered ' : ', no answer yet')}
              {letter.answeredAt && <When at={letter.answeredAt} />}
            </span>
            {letter.problem && <span className="block text-small text-soft">{letter.problem}</span>}
          </summary>
          <div lang={letter.language} className="border-l-2 border-hair pl-3">
            <p className="font-semibold">{letter.subject}</p>
            {letter.paragraphs.map((text) => text && <Paragraph key={text} text={text} />)}
          </div>
        </details>
      ))}
    </Section>
  )
}

const Paragraph = ({ text }: { text: string }) => <p className="py-0.5 whitespace-pre-line">{text}</p>
