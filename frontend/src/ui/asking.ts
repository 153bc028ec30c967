import { inject, provide, readonly, ref, type InjectionKey } from 'vue'

import { sayProblem } from './say'

/**
 * What a draft asks of the core, one question after the other, each of the draft as it is when its turn comes. A question that was
 * refused is said; who saves waits for all, and learns whether one was.
 */
export function useQuestions() {
  const open = ref(0)
  const refused = ref(0)
  let last: Promise<unknown> = Promise.resolve()

  function ask<T>(question: () => Promise<T>, use: (answer: T) => void): void {
    open.value += 1
    last = last
      .then(question)
      .then(use)
      .catch((error: unknown) => {
        refused.value += 1
        sayProblem(error)
      })
      .finally(() => (open.value -= 1))
  }
  /** Waits until nothing is asked; true when all was answered. */
  async function settled(): Promise<boolean> {
    const before = refused.value
    while (open.value) await last
    return refused.value === before
  }
  return { ask, settled, refused: readonly(refused) }
}

type Questions = ReturnType<typeof useQuestions>
const QUESTIONS: InjectionKey<Questions> = Symbol('questions to the core')

export function provideAsking(): Questions {
  const questions = useQuestions()
  provide(QUESTIONS, questions)
  return questions
}

/** The questions of the editor around; a part that stands alone has its own. */
export const useAsking = (): Questions => inject(QUESTIONS, useQuestions, true)
