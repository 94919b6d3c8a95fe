import { linkForOwner } from '@/usecases/people/ownerLink'
import { verifyAudit } from '@/usecases/people/audit'
import { withBooks } from './withBooks'

/** Prints the link that makes the first owner, or lets an owner in again who has lost their way. */
export const ownerLink = (email: string | undefined, quiet: boolean): Promise<number> =>
  withBooks(async (gharry) => {
    const made = await linkForOwner(gharry, email)
    if (made.ok) {
      console.log(made.link)
      return 0
    }
    if (!quiet) console.error(made.sentence)
    return quiet ? 0 : 3
  })

/** Works out every hash of the audit again; says how many lines there are, and the first one that is wrong. */
export const verify = (): Promise<number> =>
  withBooks(async (gharry) => {
    const { lines, head, wrong } = await verifyAudit(gharry)
    if (wrong) {
      console.error(
        `The audit is not as it was written. Line ${wrong.seq}: ${wrong.why} ${lines} lines before it are right.`,
      )
      return 1
    }
    console.log(`${lines} lines, all as they were written. The last one is ${head || '(none)'}.`)
    return 0
  })
