import { ref } from 'vue'

import { Problem } from '@/api/client'

export interface Said {
  text: string
  level: 'fact' | 'problem'
}

/** What was just done or went wrong, shown in the bottom bar. */
export const said = ref<Said>()
let timer: ReturnType<typeof setTimeout> | undefined

export function say(text: string, level: Said['level'] = 'fact'): void {
  said.value = { text, level }
  clearTimeout(timer)
  timer = setTimeout(() => (said.value = undefined), level === 'fact' ? 9000 : 20_000)
}

export function sayProblem(error: unknown): void {
  say(error instanceof Problem ? error.message : 'Something went wrong in this page. Load it again.', 'problem')
}
