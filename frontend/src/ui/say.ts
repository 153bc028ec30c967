import { ref } from 'vue'

import { Problem } from '@/api/client'

export interface Said {
  text: string
  level: 'fact' | 'problem'
  /** What can be done about it, there and then. */
  way?: { label: string; run: () => void }
}

/** What was just done or went wrong, shown in the bottom bar. */
export const said = ref<Said>()
let timer: ReturnType<typeof setTimeout> | undefined

export function say(text: string, level: Said['level'] = 'fact', way?: Said['way']): void {
  said.value = { text, level, way }
  clearTimeout(timer)
  timer = setTimeout(() => (said.value = undefined), level === 'fact' ? 9000 : 20_000)
}

export function sayProblem(error: unknown): void {
  say(wordsOf(error), 'problem')
}

const wordsOf = (error: unknown): string =>
  error instanceof Problem ? error.message : 'Something went wrong in this page. Load it again.'

/** Says why the whole of something cannot be undone, and offers to undo the part that can. */
export function sayRest(error: unknown, undoRest: () => void): void {
  const rest = error instanceof Problem ? error.rest : 0
  say(wordsOf(error), 'problem', rest ? { label: 'Undo what nobody touched since', run: undoRest } : undefined)
}
