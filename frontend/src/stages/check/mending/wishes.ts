import type { Schemas } from '@/api/client'

export type Wish = Schemas['WishIn']['wish']

/** What can be mended for many at once, in the order in which it is offered. */
export const KINDS = [
  { name: 'points', label: 'Points on another scale' },
  { name: 'numbers', label: 'Numbers that came as text' },
  { name: 'outcomes', label: 'Outcomes' },
  { name: 'keys', label: 'Keys from a list' },
  { name: 'feedback', label: 'Feedback from a sheet' },
  { name: 'pictures', label: 'Missing pictures' },
  { name: 'twins', label: 'Twice, or in two languages' },
  { name: 'paper', label: 'Not for a screen' },
] as const
export type Kind = (typeof KINDS)[number]['name']

/** A number as somebody types it; undefined for what is none. */
export function numberOf(text: string): number | undefined {
  const typed = text.trim().replace(',', '.')
  return typed === '' || Number.isNaN(Number(typed)) ? undefined : Number(typed)
}
