'use client'
import { ChevronDown } from 'lucide-react'
import type { ComponentProps } from 'react'
import { filterButton } from '../kit/Facet'
import { later } from '../kit/later'
import type { ViewMenu } from './ViewMenu'

export type ViewsProps = Omit<ComponentProps<typeof ViewMenu>, 'close'>

export const ViewsWords = () => (
  <>
    View <ChevronDown className="size-3.5" aria-hidden />
  </>
)

/** How the list is seen: views that are kept, columns, and files of it. */
export const Views = later<ViewsProps>(
  () => import('./ViewsPopover').then((module) => module.ViewsPopover),
  () => (
    <button type="button" aria-expanded={false} className={filterButton}>
      <ViewsWords />
    </button>
  ),
)
