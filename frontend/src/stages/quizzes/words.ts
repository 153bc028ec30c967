import type { Settings } from './useQuiz'

/** The words of a setting's values: a value that is new in the core wants its word here. */
type Words<K extends keyof Settings> = Record<NonNullable<Settings[K]> & string, string>

/** The moments of a quiz, of a section and of an exception. */
export const MOMENTS = { opens: 'Opens', due: 'Due', closes: 'Closes' } as const
export const COUNTS: Words<'counts'> = {
  best: 'the best counts',
  last: 'the last counts',
  first: 'the first counts',
  average: 'their average counts',
}
export const LATE: Words<'late'> = {
  taken: 'it is taken',
  'with a deduction': 'it costs marks',
  refused: 'it is not taken',
}
export const TIME_UP: Words<'time_up'> = {
  'handed in': 'what is there is handed in',
  refused: 'what is not handed in does not count',
  'may go on': 'one may go on, and it is noted',
}
export const SHOWN: Words<'shown'> = {
  'all at once': 'all at once',
  'by parts': 'part by part',
  'one at a time': 'one at a time',
}
export const NAVIGATION: Words<'navigation'> = { free: 'yes, to any item', 'in order': 'no' }
export const SUBMISSION: Words<'submission'> = {
  'at the end': 'all at the end',
  'item by item': 'one by one, each final',
}
/** When something is shown; any other value is a moment. */
export const RELEASE = {
  never: 'never',
  'on submitting': 'as soon as it is handed in',
  'after the last attempt': 'after the last attempt',
  'after closing': 'after closing',
} as const
export const AT_A_TIME = 'at a time'
export const RELEASED = {
  show_marks: 'Marks',
  show_responses: 'Their own answers',
  show_right: 'Which were right',
  show_key: 'The key',
  show_feedback: 'Feedback',
} as const
/** How an attempt ended, to go behind “ended”. */
export const ENDED: Record<string, string> = {
  'handed in': 'handed in',
  time: 'handed in when time was up',
  due: 'handed in when it was due',
  closed: 'handed in when the quiz closed',
  left: 'ended by leaving it',
  '': '',
}
