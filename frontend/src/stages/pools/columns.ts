import { useStorage } from '@vueuse/core'

import type { Schemas } from '@/api/client'
import type { ItemOrder } from '@/api/queries'
import { WORDS, when } from '@/ui/words'

type Row = Schemas['ItemRow']

/** A column of the list beside the stem; `narrow` ones are shown while an item is read beside it. */
export interface Column {
  name: string
  label: string
  width: string
  sort?: ItemOrder['sort']
  narrow?: boolean
  text: (row: Row) => string
  title?: (row: Row) => string
}

/** What is in an item, by a sign each: it must be seen in a list that there is a picture, and that something is open. */
const SIGNS: readonly [keyof Row, string, string][] = [
  ['picture', '▣', 'a picture'],
  ['formula', 'ƒ', 'a formula'],
  ['feedback', '❝', 'feedback'],
  ['findings', '!', 'findings'],
  ['advice', '○', 'advice'],
]

export const STEM = { name: 'text', label: 'Stem', sort: 'text' as const }

export const COLUMNS: readonly Column[] = [
  {
    name: 'signs',
    label: 'Holds',
    width: '62px',
    narrow: true,
    text: (row) => SIGNS.map(([name, sign]) => (row[name] ? sign : '')).join(''),
    title: (row) => SIGNS.filter(([name]) => row[name]).map(([, , words]) => words).join(', '), // prettier-ignore
  },
  { name: 'outcome', label: 'Outcome', width: '70px', text: (row) => row.outcome, title: (row) => row.outcome },
  { name: 'difficulty', label: 'Difficulty', width: '72px', sort: 'difficulty', text: (row) => row.difficulty },
  {
    name: 'type',
    label: 'Type',
    width: '116px',
    sort: 'type',
    narrow: true,
    text: (row) => WORDS.types[row.type] ?? '',
  },
  { name: 'source', label: 'Source', width: '120px', text: (row) => row.source, title: (row) => row.source },
  { name: 'handed', label: 'Handed on', width: '100px', text: (row) => (row.handed ? when(row.handed) : '') },
  { name: 'updated', label: 'Changed', width: '100px', sort: 'updated', text: (row) => when(row.updated) },
  {
    name: 'points',
    label: 'Points',
    width: '48px',
    sort: 'points',
    narrow: true,
    text: (row) => (row.points === null ? '–' : String(row.points)),
  },
]

/** Which columns are shown, remembered. */
export function useColumns() {
  const chosenColumns = useStorage<string[]>('rogatum-columns', ['signs', 'outcome', 'difficulty', 'type', 'points'])
  function toggle(name: string): void {
    chosenColumns.value = chosenColumns.value.includes(name)
      ? chosenColumns.value.filter((other) => other !== name)
      : [...chosenColumns.value, name]
  }
  return { chosenColumns, toggle }
}
