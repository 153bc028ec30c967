import type { Schemas } from '@/api/client'

/** How items with several parts earn their points, in words, by type. */
export const SCORING: Record<string, Record<string, string>> = {
  multiple_response: { all_or_nothing: 'all or nothing', per_choice: 'each choice counts' },
  cloze: { all_or_nothing: 'all blanks or nothing', per_part: 'each blank counts' },
  matching: { all_or_nothing: 'all pairs or nothing', per_part: 'each pair counts' },
  ordering: { all_or_nothing: 'the whole order or nothing', per_part: 'each place counts' },
}

/** How an item earns its points, where its parts can in more than one way. */
export function scoringWords(item: Schemas['ReadingItemOut']['item']): string {
  return 'scoring' in item && item.scoring ? (SCORING[item.type ?? '']?.[item.scoring] ?? '') : ''
}

/** A weight as a share of the points. */
export function share(weight: number | undefined): string {
  return `${Number(((weight ?? 0) * 100).toFixed(1))} %`
}

type Numbers = Schemas['NumericAnswer']

/** The numbers that are accepted, in words. */
export function numberWords(answer: Numbers): string {
  if (answer.value != null) return aroundWords(answer, answer.value)
  const least = answer.min == null ? '' : answer.include_min === false ? `more than ${answer.min}` : `${answer.min}`
  const most = answer.max == null ? '' : answer.include_max === false ? `less than ${answer.max}` : `${answer.max}`
  if (least && most) return `${least} to ${most}`
  if (least) return answer.include_min === false ? least : `${least} or more`
  if (most) return answer.include_max === false ? most : `${most} or less`
  return 'any number'
}

function aroundWords(answer: Numbers, value: number): string {
  if (answer.figures != null) {
    return `${value} to ${answer.figures} ${answer.rounding === 'decimal' ? 'decimals' : 'significant figures'}`
  }
  if (answer.relative != null) return `${value} ± ${answer.relative} %`
  const open = answer.include_min === false || answer.include_max === false ? ', the bounds do not count' : ''
  return answer.tolerance ? `${value} ± ${answer.tolerance}${open}` : `${value}`
}

type AnyItem = Schemas['ReadingItemOut']['item']
type Told = { text?: string; feedback?: string | null }
export type AnswerNote = { of: string; text: string }

/** What single answers and choices of an item to fill in say, each with the answer that it is of. */
export function answerNotes(item: AnyItem): AnswerNote[] {
  if ('blanks' in item) {
    return (item.blanks ?? []).flatMap((blank, n) =>
      blank.kind === 'choice'
        ? told(blank.choices ?? [], (choice) => plain(choice.content), `Blank ${n + 1}, if `)
        : told<Told>(blank.answers ?? [], answerWords, `Blank ${n + 1}, if `),
    )
  }
  return 'answers' in item ? told<Told>(item.answers ?? [], answerWords, 'If ') : []
}

function told<T extends Told>(answers: T[], words: (answer: T) => string, lead: string): AnswerNote[] {
  return answers.flatMap((answer) => (answer.feedback ? [{ of: lead + words(answer), text: answer.feedback }] : []))
}

function answerWords(answer: Told): string {
  return answer.text ?? numberWords(answer as Numbers)
}

function plain(content: string): string {
  return new DOMParser().parseFromString(content, 'text/html').body.textContent
}
