import type { Schemas } from '@/api/client'

export type AnyItem = Schemas['ReadingItemOut']['item']
type Of<T extends string> = Extract<AnyItem, { type?: T }>
export type Choice = Schemas['Choice']
export type ChoiceItem = Of<'multiple_choice'> | Of<'multiple_response'>
export type Truth = Of<'true_false'>
export type FillIn = Of<'fill_in'>
export type Numeric = Of<'numeric'>
export type ClozeItem = Of<'cloze'>
export type MatchingItem = Of<'matching'>
export type OrderingItem = Of<'ordering'>
export type EssayItem = Of<'essay'>
export type Blank = NonNullable<ClozeItem['blanks']>[number]
export type TextAnswer = Schemas['TextAnswer']
export type NumericAnswer = Schemas['NumericAnswer']

export const NEW_TEXT = (): TextAnswer => ({ text: '', weight: 1, match: 'exact' })
export const NEW_NUMBER = (): NumericAnswer => ({
  value: 0,
  tolerance: 0,
  weight: 1,
  include_min: true,
  include_max: true,
  rounding: 'significant',
})

/** A blank with a first entry to write in where it has none. */
export function begun(blank: Blank): Blank {
  if (blank.kind === 'choice')
    return blank.choices?.length ? blank : { ...blank, choices: [newChoice('c1'), newChoice('c2')] }
  if (blank.answers?.length) return blank
  return blank.kind === 'numeric' ? { ...blank, answers: [NEW_NUMBER()] } : { ...blank, answers: [NEW_TEXT()] }
}
export const newChoice = (id: string): Choice => ({ id, content: '', weight: 0, feedback: null })

/** A name that is free among those taken. */
export function freeName(prefix: string, taken: Iterable<string>): string {
  const names = new Set(taken)
  let number = names.size + 1
  while (names.has(`${prefix}${number}`)) number += 1
  return `${prefix}${number}`
}

/** What choices earn, as the core says, whatever has been typed in them meanwhile. */
export function takeWeights(choices: Choice[], made: Choice[] | undefined): void {
  const weights = new Map(made?.map((choice) => [choice.id, choice.weight]))
  choices.forEach((choice) => (choice.weight = weights.get(choice.id) ?? choice.weight))
}

/** The group of a button that marks the key. Of two keys where one is asked for both are shown: in one group only the last would be. */
export function keyGroup(group: string, choices: readonly Choice[], choice: Choice): string {
  return choices.filter(isKey).length > 1 ? `${group} ${choice.id}` : group
}
/** One of several keys is picked as the only one by a click that changes nothing on its button. */
export const isOneOfKeys = (choices: readonly Choice[], choice: Choice): boolean =>
  isKey(choice) && choices.filter(isKey).length > 1
const isKey = (choice: Choice): boolean => (choice.weight ?? 0) > 0

/** Moves an entry of a list by a step; what would leave the list stays. */
export function moved<T>(list: T[], index: number, step: number): void {
  const to = index + step
  if (to < 0 || to >= list.length) return
  const [entry] = list.splice(index, 1)
  if (entry !== undefined) list.splice(to, 0, entry)
}
