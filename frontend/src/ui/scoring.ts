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
