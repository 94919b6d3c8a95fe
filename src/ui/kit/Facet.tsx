'use client'
import { ChevronDown } from 'lucide-react'
import { later } from './later'

export interface FacetProps {
  readonly label: string
  readonly spread: readonly { readonly value: string; readonly count: number }[]
  /** What values are called. */
  readonly words: Readonly<Record<string, string>>
  readonly chosen: readonly string[]
  readonly onToggle: (value: string) => void
}

/** The look of a button that opens a menu in a row of filters. */
export const filterButton = 'flex items-center gap-1 rounded-[3px] px-2 py-1 hover:bg-act-soft'
export const facetButton = (chosen: readonly string[]): string =>
  `${filterButton} ${chosen.length > 0 ? 'bg-act-soft font-semibold' : ''}`

/** A filter's name, and what is chosen. */
export const FacetWords = ({ label, words, chosen }: Pick<FacetProps, 'label' | 'words' | 'chosen'>) => (
  <>
    {label}
    {chosen.length > 0 && `: ${chosen.length === 1 ? (words[chosen[0]!] ?? chosen[0]) : chosen.length}`}{' '}
    <ChevronDown className="size-3.5" aria-hidden />
  </>
)

/** A filter that shows how the rows spread over its values. */
export const Facet = later<FacetProps>(
  () => import('./FacetMenu').then((module) => module.FacetMenu),
  (props) => (
    <button type="button" aria-expanded={false} className={facetButton(props.chosen)}>
      <FacetWords {...props} />
    </button>
  ),
)
