'use client'
import type { AccountNames, ReportView } from '@/usecases/ledger/report'
import { call } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { EditNotes } from '../../kit/EditNotes'
import { Field, TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'

const about: Readonly<Record<keyof AccountNames, readonly [label: string, hint: string]>> = {
  balance: ['Balance at carriers', 'Money that was paid in advance, or is owed to them.'],
  'refunds due': ['Refunds due', 'What carriers owe for labels that were voided.'],
  shipping: ['Shipping', 'What labels and collections cost.'],
  bank: ['Bank', 'From where carriers are topped up.'],
}

/** How the accounts of the books are called in the office's own plan: journal lines name them so. */
export function Accounts({ view, onClose }: { view: ReportView; onClose: () => void }) {
  const edit = useEdit<AccountNames>('accounts', view.accounts)
  const change = useChange(['report'])
  const lines = (of: AccountNames): string[] => Object.entries(of).map(([account, name]) => `${account}: ${name}`)
  const save = (): Promise<boolean> =>
    change(
      () => call('PUT /api/ledger/report', { body: { version: view.version, accounts: edit.value } }),
      () => {
        edit.drop()
        onClose()
      },
    )
  return (
    <Beside label="Accounts" title="Accounts of your own plan" onClose={onClose}>
      <form
        className="min-h-0 flex-1 overflow-auto px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <EditNotes edit={edit} what="the accounts" mine={lines(edit.value)} theirs={lines(view.accounts)} />
        <div className="grid gap-3">
          {(Object.keys(about) as (keyof AccountNames)[]).map((account) => (
            <Field key={account} label={about[account][0]} hint={about[account][1]}>
              <TextInput
                className="w-full"
                maxLength={40}
                placeholder="6240"
                value={edit.value[account]}
                onChange={(event) => edit.put({ ...edit.value, [account]: event.target.value })}
              />
            </Field>
          ))}
        </div>
        <Button
          kind="filled"
          calls="PUT /api/ledger/report"
          type="submit"
          className="mt-4"
          disabled={!edit.editing || edit.overtaken}
        >
          Save
        </Button>
      </form>
    </Beside>
  )
}
