'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import dynamic from 'next/dynamic'
import { filterButton } from '../kit/Facet'
import { type ViewsProps, ViewsWords } from './Views'

// Nobody needs it before it is opened.
const Menu = dynamic(() => import('./ViewMenu').then((module) => module.ViewMenu), {
  ssr: false,
  loading: () => <p className="text-soft">Fetching the views …</p>,
})

/** The button of the views, with what it opens. */
export const ViewsPopover = (props: ViewsProps) => (
  <Popover className="relative">
    <PopoverButton className={filterButton}>
      <ViewsWords />
    </PopoverButton>
    <PopoverPanel anchor="bottom end" className="z-30 max-h-[80vh] w-80 overflow-auto bg-sheet p-3 shadow-xl">
      {({ close }) => <Menu {...props} close={close} />}
    </PopoverPanel>
  </Popover>
)
