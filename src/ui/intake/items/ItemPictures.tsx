'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { useQueryClient } from '@tanstack/react-query'
import { ImagePlus } from 'lucide-react'
import { memo, useRef, useState } from 'react'
import { sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count } from '../../kit/format'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'

const pictureTypes = 'image/png,image/jpeg,image/webp'

/**
 * The picture of an item, small in its row; opened, it is larger and can be changed. Not drawn anew while cells are
 * typed in.
 */
export const ItemPicture = memo(function ItemPicture({ sku, picture }: { sku: string; picture: string | null }) {
  const change = useChange(['items'])
  const field = useRef<HTMLInputElement>(null)
  const put = (file: Blob | undefined): Promise<unknown> =>
    file ? change(() => sendFile('PUT /api/intake/items/pictures', { query: { name: sku }, file })) : Promise.resolve()
  return (
    <Popover className="relative">
      <PopoverButton
        aria-label={picture ? `Picture of ${sku}` : `No picture of ${sku} yet`}
        className="grid size-7 place-items-center text-soft hover:bg-act-soft"
      >
        {picture ? (
          <img src={picture} alt="" className="size-7 object-contain" />
        ) : (
          <ImagePlus aria-hidden className="size-4 opacity-60" />
        )}
      </PopoverButton>
      <PopoverPanel
        anchor="right start"
        className="z-30 grid w-72 gap-2 border border-hair bg-sheet p-3 shadow-xl focus:outline-none"
      >
        {picture && <img src={picture} alt={`Picture of ${sku}`} className="max-h-52 w-full object-contain" />}
        <input
          ref={field}
          type="file"
          accept={pictureTypes}
          aria-label={`File with a picture of ${sku}`}
          className="hidden"
          onChange={(event) => {
            void put(event.target.files?.[0])
            event.target.value = ''
          }}
        />
        <span className="flex items-center gap-2">
          <Button onClick={() => field.current?.click()}>{picture ? 'Another picture …' : 'Choose a picture …'}</Button>
          {picture && (
            <Button kind="quiet" onClick={() => put(new Blob([]))}>
              Take it away
            </Button>
          )}
        </span>
      </PopoverPanel>
    </Popover>
  )
})

/** Takes many pictures at once: each file is called as its SKU. Those that are not taken are named, with the reason. */
export function ManyPictures() {
  const field = useRef<HTMLInputElement>(null)
  const client = useQueryClient()
  const say = useSay()
  const [done, setDone] = useState<{ readonly taken: number; readonly of: number } | null>(null)
  const [wrong, setWrong] = useState<readonly string[]>([])
  const take = async (files: readonly File[]): Promise<void> => {
    const left: string[] = []
    setWrong([])
    for (const [i, file] of files.entries()) {
      setDone({ taken: i, of: files.length })
      try {
        await sendFile('PUT /api/intake/items/pictures', { query: { name: file.name }, file })
      } catch (error) {
        left.push(error instanceof Error ? error.message : file.name)
      }
    }
    setDone(null)
    setWrong(left)
    await client.invalidateQueries({ queryKey: ['items'] })
    const taken = files.length - left.length
    if (taken > 0) say(`${count(taken)} ${taken === 1 ? 'picture is' : 'pictures are'} taken`)
  }
  return (
    <>
      <input
        ref={field}
        type="file"
        multiple
        accept={pictureTypes}
        aria-label="Files with pictures of items"
        className="hidden"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])]
          event.target.value = ''
          void take(files)
        }}
      />
      <Button disabled={done !== null} onClick={() => field.current?.click()} title="Each file is called as its SKU">
        {done ? `${count(done.taken)} of ${count(done.of)} …` : 'Pictures …'}
      </Button>
      {wrong.length > 0 && (
        <div role="alert" className="w-full bg-lost-soft px-3 py-2 text-lost">
          <p className="font-semibold">
            {count(wrong.length)} {wrong.length === 1 ? 'picture was' : 'pictures were'} not taken.
          </p>
          <ul>
            {wrong.slice(0, 20).map((sentence, i) => (
              <li key={i}>{sentence}</li>
            ))}
          </ul>
          {wrong.length > 20 && <p>And {count(wrong.length - 20)} more.</p>}
        </div>
      )}
    </>
  )
}
