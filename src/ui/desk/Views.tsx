'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { ChevronDown } from 'lucide-react'
import dynamic from 'next/dynamic'
import type { ComponentProps } from 'react'
import type { ViewMenu } from './ViewMenu'

// Nobody needs it before it is opened.
const Menu = dynamic(() => import('./ViewMenu').then((module) => module.ViewMenu), {
  ssr: false,
  loading: () => <p className="text-soft">Fetching the views …</p>,
})

/** How the list is seen: views that are kept, columns, and files of it. */
export const Views = (props: Omit<ComponentProps<typeof ViewMenu>, 'close'>) => (
  <Popover className="relative">
    <PopoverButton className="flex items-center gap-1 rounded-[3px] px-2 py-1 hover:bg-act-soft">
      View <ChevronDown className="size-3.5" aria-hidden />
    </PopoverButton>
    <PopoverPanel anchor="bottom end" className="z-30 max-h-[80vh] w-80 overflow-auto bg-sheet p-3 shadow-xl">
      {({ close }) => <Menu {...props} close={close} />}
    </PopoverPanel>
  </Popover>
)
