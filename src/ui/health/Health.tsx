'use client'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { bytes, count, orderCount } from '../kit/format'
import { StateMark } from '../kit/StateMark'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { When } from '../kit/When'
import { SetupSheet } from '../setup/SetupSheet'

export type HealthView = AnswerOf<'GET /api/setup/health'>

/** How Gharry itself is: what somebody has to see to, what waits, whether backups are made, and what it runs on. */
export function Health({ initial }: { initial: HealthView }) {
  const { data } = useQuery({
    queryKey: ['health'],
    queryFn: () => call('GET /api/setup/health'),
    initialData: initial,
    refetchInterval: 5000,
  })
  return (
    <SetupSheet at="health" about="How Gharry itself is" label="Health">
      <Concerns view={data} />
      <div className="mt-5 grid gap-x-8 gap-y-5 min-[1100px]:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
        <div className="flex flex-col gap-5">
          <Queues view={data} />
          <Problems view={data} />
        </div>
        <div className="flex flex-col gap-5">
          <Backups view={data} />
          <RunsOn view={data} />
          <Slow view={data} />
        </div>
      </div>
    </SetupSheet>
  )
}

/** What somebody has to see to; nothing is a good answer. */
function Concerns({ view }: { view: HealthView }) {
  const change = useChange(['health'])
  const say = useSay()
  const isRight = (): Promise<boolean> =>
    change(
      () => call('POST /api/setup/health/clock', { body: {} }),
      () => say('Gharry goes by this clock from now on'),
    )
  const settled = (): Promise<boolean> =>
    change(
      () => call('POST /api/setup/health/restored', { body: {} }),
      () => say('What was open after the restore is settled'),
    )
  if (view.concerns.length === 0) return <p className="text-lead font-semibold">All is well.</p>
  return (
    <section aria-label="To see to">
      <h2 className="text-lead font-semibold">
        {view.readOnly === null ? 'To see to' : 'Nothing is changed until this is seen to'}
      </h2>
      <ul className="mt-1 flex flex-col gap-1">
        {view.concerns.map(({ sentence, where }) => (
          <li key={sentence} className="flex items-baseline gap-2">
            <StateMark state="attention" bare />
            <span>
              {sentence}{' '}
              {where && (
                <a className="text-act underline decoration-hair underline-offset-4" href={where}>
                  See them
                </a>
              )}
            </span>
          </li>
        ))}
      </ul>
      {view.restoredToSettle && (
        <Button className="mt-2" calls="POST /api/setup/health/restored" onClick={settled}>
          I have looked at the carriers
        </Button>
      )}
      {view.clockIsWrong && (
        <Button className="mt-2" calls="POST /api/setup/health/clock" onClick={isRight}>
          The clock is right now
        </Button>
      )}
    </section>
  )
}

function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h2 className="mb-1 font-semibold">{title}</h2>
      {children}
    </section>
  )
}

/** A line of what is the case. */
function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </>
  )
}
const Facts = ({ children }: { children: ReactNode }) => (
  <dl className="grid grid-cols-[max-content_1fr] gap-x-4 gap-y-0.5">{children}</dl>
)

function Queues({ view }: { view: HealthView }) {
  return (
    <Block title="Work that must not be lost">
      <table className="w-full bg-sheet">
        <thead>
          <tr className="border-b border-hair text-small text-soft">
            <th className="px-3 py-1.5 text-left">What</th>
            <th className="px-3 text-right">Due</th>
            <th className="px-3 text-left">Oldest since</th>
            <th className="px-3 text-right">Under way</th>
            <th className="px-3 text-right">Tried in vain</th>
            <th className="px-3 text-right">Given up today</th>
          </tr>
        </thead>
        <tbody>
          {view.queues.map((queue) => (
            <tr key={queue.name} className="border-b border-hair/70">
              <td className="px-3 py-1">{queue.name}</td>
              <Figure of={queue.due} />
              <td className={`px-3 ${queue.late ? 'font-semibold text-lost' : ''}`}>
                {queue.oldest ? <When at={queue.oldest} /> : ''}
              </td>
              <Figure of={queue.held} />
              <Figure of={queue.tried} />
              <Figure of={queue.failed} />
            </tr>
          ))}
        </tbody>
      </table>
    </Block>
  )
}

const Figure = ({ of }: { of: number }) => (
  <td className={`px-3 text-right ${of === 0 ? 'text-soft' : ''}`}>{count(of)}</td>
)

function Problems({ view }: { view: HealthView }) {
  if (view.problems.length === 0) return null
  return (
    <Block title="What went wrong in the last 24 hours">
      <ul className="flex flex-col gap-1">
        {view.problems.map(({ name, problem, n, last }) => (
          <li key={`${name} ${problem}`}>
            <span className="text-soft">
              {name}, {count(n)} ×, <When at={last} />:
            </span>{' '}
            {problem}
          </li>
        ))}
      </ul>
    </Block>
  )
}

function Backups({ view: { backups, backupsOff } }: { view: HealthView }) {
  if (backupsOff || !backups)
    return <Block title="Backups">{backupsOff ? 'None are made.' : 'None was made yet.'}</Block>
  const { newest } = backups
  return (
    <Block title="Backups">
      <Facts>
        <Fact name="Last whole copy">
          {newest ? (
            <>
              <When at={newest.made} />, {bytes(newest.bytes)}, made and looked through in {newest.seconds} s
            </>
          ) : (
            'none yet'
          )}
        </Fact>
        <Fact name="Can be restored to">
          {backups.until ? (
            <>
              any moment until <When at={backups.until} />
            </>
          ) : (
            'the last whole copy'
          )}
          {backups.waiting > 0 && `; ${count(backups.waiting)} parts wait for the place`}
        </Fact>
        <Fact name="Where">{backups.place}</Fact>
        <Fact name="Key">
          {backups.key}. Keep it elsewhere too: <code className="text-small">gharry backup-key</code> prints it.
        </Fact>
      </Facts>
    </Block>
  )
}

function RunsOn({ view: { processes, disk, versions, old } }: { view: HealthView }) {
  return (
    <Block title="Runs on">
      <Facts>
        {processes.map(({ id, kind, startedAt, seenAt, silent, version }) => (
          <Fact key={id} name={kind === 'server' ? 'Server' : 'Worker'}>
            {silent ? (
              <span className="text-lost">
                silent since <When at={seenAt} />
              </span>
            ) : (
              <>
                since <When at={startedAt} />
              </>
            )}
            {version !== versions.gharry && `, still of version ${version}`}
          </Fact>
        ))}
        <Fact name="Disk">
          {bytes(disk.free)} free of {bytes(disk.whole)}
        </Fact>
        <Fact name="Books">
          {bytes(disk.books)}, their log {bytes(disk.log)}, files {bytes(disk.files)}
        </Fact>
        {old.length > 0 && (
          <Fact name="Old months in files">
            {old[0]!.month} to {old.at(-1)!.month}: {orderCount(old.reduce((sum, { orders }) => sum + orders, 0))},{' '}
            {bytes(old.reduce((sum, one) => sum + one.bytes, 0))}
          </Fact>
        )}
        <Fact name="Versions">
          Gharry {versions.gharry}, form {versions.form}, {versions.engine}, Node {versions.node.replace('v', '')}
        </Fact>
      </Facts>
    </Block>
  )
}

function Slow({ view }: { view: HealthView }) {
  if (view.slow.length === 0) return null
  return (
    <Block title="Slowest questions to the books, last hour">
      <ul className="flex flex-col gap-1">
        {view.slow.map(({ sql, ms, times, kind }) => (
          <li key={`${kind} ${sql}`} className="flex gap-3">
            <span className="w-20 shrink-0 text-right">{count(ms)} ms</span>
            <code className="min-w-0 truncate text-small text-soft" title={sql}>
              {times > 1 && `${count(times)} × `}
              {sql}
            </code>
          </li>
        ))}
      </ul>
    </Block>
  )
}
