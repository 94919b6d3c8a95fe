import { createServer } from 'node:http'
import { type AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'

/** A shop and a mail server that take their time to answer, and count what they were told. */
export interface SlowOutside {
  readonly shop: string
  readonly smtpPort: string
  readonly posts: () => number
  readonly mails: () => number
  readonly close: () => void
}

/** Starts both, in this process: they do nothing but wait. */
export async function slowOutside(latencyMs: number): Promise<SlowOutside> {
  let [posts, mails] = [0, 0]
  const shop = createServer((incoming, answer) => {
    incoming.resume()
    incoming.on('end', () => {
      posts++
      setTimeout(() => answer.writeHead(201, { 'content-type': 'application/json' }).end('{"id":"f"}'), latencyMs)
    })
  })
  const smtp = new SMTPServer({
    ...{ authOptional: true, disabledCommands: ['STARTTLS', 'AUTH'], logger: false },
    onData: (stream, _session, done) => {
      stream.resume()
      stream.on('end', () => {
        mails++
        setTimeout(done, latencyMs)
      })
    },
  })
  await new Promise<void>((resolve) => void shop.listen(0, '127.0.0.1', resolve))
  await new Promise<void>((resolve) => void smtp.listen(0, '127.0.0.1', resolve))
  return {
    shop: `http://127.0.0.1:${(shop.address() as AddressInfo).port}`,
    smtpPort: String((smtp.server.address() as AddressInfo).port),
    posts: () => posts,
    mails: () => mails,
    close: () => {
      shop.close()
      smtp.close()
    },
  }
}
