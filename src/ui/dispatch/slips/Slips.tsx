'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useEffect, useState } from 'react'
import { blocksOf, type BlockKind, blockKinds, placeholders, type SlipBlock, type SlipTemplate } from '@/core/papers'
import type { SlipPreview, SlipsView } from '@/usecases/dispatch/slips'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Select, TextInput } from '../../kit/Field'
import { Placeholders } from '../../kit/Placeholders'
import { PageView } from '../../kit/PageView'
import { EditNotes } from '../../kit/EditNotes'
import { Plain } from '../../kit/Screen'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { beginEdit, useEdit, useEdits } from '../../kit/useEdit'
import { DispatchHead } from '../DispatchHead'
import { BlockEditor } from './BlockEditor'
import { aStep } from '../../kit/step'

const plain = { id: 'standard', name: 'Standard slip', heading: '{{ order.channel }}' }
/** What the first template begins as. */
const firstSlip: SlipTemplate = {
  ...plain,
  closing: '',
  blocks: blocksOf({ ...plain, closing: 'Thank you, {{ buyer.firstName }}.' }),
}

/** Slip templates: built of blocks, seen at once as they will be printed for any order. */
export function Slips({ initial }: { initial: SlipsView }) {
  const { data: view } = useQuery({
    queryKey: ['slips'],
    queryFn: () => call('GET /api/dispatch/slips'),
    initialData: initial,
    refetchInterval: 5000,
  })
  const [asked, setChosen] = useQueryState('slip', parseAsString.withOptions(aStep))
  const [number, setNumber] = useState('')
  const edits = useEdits('slip ') as ReadonlyMap<string, SlipTemplate>
  const isSaved = (id: string): boolean => view.slips.some((slip) => slip.id === id)
  const begun = [...edits].filter(([id]) => !isSaved(id)).map(([, slip]) => slip)
  const all = [...view.slips, ...begun]
  const chosen = all.some(({ id }) => id === asked) ? asked! : (all[0]?.id ?? '')
  const saved = view.slips.find(({ id }) => id === chosen)
  const edit = useEdit<SlipTemplate | undefined>(`slip ${chosen}`, saved)
  const slip = edit.value
  const say = useSay()
  const preview = usePreview(slip, number)
  const change = useChange(['slips'])
  if (!slip)
    return (
      <div className="flex h-full flex-col">
        <DispatchHead at="slips" about="What goes into the parcel on paper" />
        <Plain title="There is no slip template yet">
          <p>Without one, slips say the channel, the order, its address and its items.</p>
          <Button
            kind="filled"
            calls="PUT /api/dispatch/slips"
            className="mt-3"
            onClick={() => beginEdit(`slip ${firstSlip.id}`, firstSlip)}
          >
            Begin one
          </Button>
        </Plain>
      </div>
    )
  const blocks = slip.blocks ?? []
  const put = (next: Partial<SlipTemplate>): void => edit.put({ ...slip, ...next })
  const putBlocks = (next: readonly SlipBlock[]): void => put({ blocks: next })
  const save = async (): Promise<void> => {
    if (
      await change(
        () => call('PUT /api/dispatch/slips', { body: { slip, version: view.version } }),
        `“${slip.name}” is saved: the next print uses it`,
      )
    ) {
      edit.drop()
    }
  }
  const remove = async (): Promise<void> => {
    const done = await change(() =>
      call('DELETE /api/dispatch/slips', { body: { id: slip.id, version: view.version } }),
    )
    if (!done) return
    const undo = (): void =>
      void change(
        async () => {
          const { version } = await call('GET /api/dispatch/slips')
          return call('PUT /api/dispatch/slips', { body: { slip, version } })
        },
        () => void setChosen(slip.id),
      )
    say(`“${slip.name}” is deleted`, { undo })
  }
  const begin = (): void => {
    const free = (n: number): string => (all.some(({ id }) => id === `slip-${n}`) ? free(n + 1) : `slip-${n}`)
    const id = free(all.length + 1)
    beginEdit(`slip ${id}`, { ...slip, id, name: `${slip.name}, copy` })
    void setChosen(id)
  }
  return (
    <div className="flex h-full flex-col">
      <DispatchHead at="slips" about="What goes into the parcel on paper">
        {edit.editing && (
          <Button kind="quiet" onClick={edit.drop}>
            {saved ? 'Put back' : 'Throw away'}
          </Button>
        )}
        {edit.editing && (
          <Button
            kind="filled"
            calls="PUT /api/dispatch/slips"
            disabled={edit.overtaken || (preview.data?.problems.length ?? 0) > 0}
            title={preview.data?.problems.length ? 'A block cannot be printed: correct it first' : undefined}
            onClick={() => save()}
          >
            Save the template
          </Button>
        )}
      </DispatchHead>
      <div className="panes min-h-0 flex-1 [--panes:1fr_420px] border-t border-hair">
        <div className="min-h-0 overflow-auto px-5 py-3" tabIndex={0} role="region" aria-label="Template">
          <EditNotes
            edit={edit}
            what={`“${slip.name}”`}
            mine={blockLines(slip)}
            theirs={saved ? blockLines(saved) : []}
          />
          <div className="flex flex-wrap items-center gap-2 pb-3">
            <Select
              aria-label="Template to edit"
              value={chosen}
              onChange={(event) => void setChosen(event.target.value)}
            >
              {all.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                  {edits.has(id) && ' – not saved yet'}
                </option>
              ))}
            </Select>
            <TextInput
              aria-label="Name of the template"
              value={slip.name}
              onChange={(event) => put({ name: event.target.value })}
              className="w-56"
            />
            {!edit.editing && <Button onClick={begin}>Begin a new one from it</Button>}
            {!edit.editing && (
              <Button kind="quiet" className="text-lost" onClick={() => remove()}>
                Delete
              </Button>
            )}
          </div>
          <ol>
            {blocks.map((block, i) => (
              <BlockEditor
                key={i}
                at={i}
                of={blocks.length}
                block={block}
                problem={preview.data?.problems.find((problem) => problem.block === i)?.sentence ?? ''}
                left={preview.data?.left.includes(i) ?? false}
                onChange={(next) =>
                  putBlocks(
                    next === null
                      ? blocks.filter((_, other) => other !== i)
                      : blocks.map((before, other) => (other === i ? next : before)),
                  )
                }
                onMove={(to) => putBlocks(moved(blocks, i, to))}
              />
            ))}
          </ol>
          <p className="flex items-center gap-2 pt-3">
            <Select
              aria-label="Add a block"
              value=""
              onChange={(event) => {
                if (event.target.value)
                  putBlocks([
                    ...blocks,
                    {
                      kind: event.target.value as BlockKind,
                      ...(event.target.value === 'items' || event.target.value === 'rule' ? {} : { text: '' }),
                    },
                  ])
              }}
            >
              <option value="">Add a block …</option>
              {blockKinds.map((kind) => (
                <option key={kind}>{kind}</option>
              ))}
            </Select>
          </p>
          <details className="mt-4">
            <summary className="cursor-pointer text-act">Placeholders and conditions</summary>
            <Placeholders list={placeholders} />
            <p className="mt-2 text-soft">
              A block is printed where its condition holds, such as{' '}
              <code className="font-mono text-small">order.country == &apos;NL&apos;</code> or{' '}
              <code className="font-mono text-small">order.tags contains &apos;live&apos;</code>.
            </p>
          </details>
        </div>
        <SlipPicture preview={preview} number={number} onNumber={setNumber} />
      </div>
    </div>
  )
}

/** The slip as it will be printed, for any order. */
function SlipPicture({
  preview,
  number,
  onNumber,
}: {
  preview: ReturnType<typeof usePreview>
  number: string
  onNumber: (number: string) => void
}) {
  return (
    <div
      className="min-h-0 overflow-auto border-l border-hair bg-sheet px-5 py-3"
      tabIndex={0}
      role="region"
      aria-label="Preview"
    >
      <p className="flex items-center gap-2 pb-2">
        <label className="flex items-center gap-2 text-soft">
          Shown for order{' '}
          <TextInput
            value={number}
            placeholder={preview.data?.number ?? 'the newest'}
            onChange={(event) => onNumber(event.target.value)}
            className="w-32 font-mono"
          />
        </label>
      </p>
      {preview.wrong && (
        <p role="alert" className="pb-2 text-lost">
          {preview.wrong}
        </p>
      )}
      <div className="grid gap-3">
        {preview.data?.pages.map((page, i) => (
          <PageView
            key={i}
            page={page}
            width={360}
            label={`Page ${i + 1} of the slip for order ${preview.data!.number}`}
          />
        ))}
      </div>
    </div>
  )
}

function moved(blocks: readonly SlipBlock[], from: number, to: number): readonly SlipBlock[] {
  const rest = blocks.filter((_, i) => i !== from)
  return [...rest.slice(0, to), blocks[from]!, ...rest.slice(to)]
}

/** The preview follows the typing, a moment behind it. */
function usePreview(slip: SlipTemplate | undefined, number: string): { data: SlipPreview | undefined; wrong: string } {
  const [asked, setAsked] = useState({ slip, number })
  useEffect(() => {
    const timer = setTimeout(() => setAsked({ slip, number }), 150)
    return () => clearTimeout(timer)
  }, [slip, number])
  const { data, error } = useQuery({
    queryKey: ['slip-preview', asked],
    queryFn: () => call('POST /api/dispatch/slips/preview', { body: asked }),
    enabled: asked.slip !== undefined,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  })
  return { data, wrong: error ? sentenceOf(error) : '' }
}

/** The blocks of a template, one line each, for people. */
const blockLines = ({ name, blocks = [] }: SlipTemplate): string[] => [
  name,
  ...blocks.map(({ kind, text, when, texts }) =>
    [
      kind,
      text,
      when && `only where ${when}`,
      ...Object.entries(texts ?? {}).map(([code, other]) => `${code}: ${other}`),
    ]
      .filter(Boolean)
      .join(': '),
  ),
]
