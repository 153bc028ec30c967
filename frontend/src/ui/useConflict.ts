import { ref } from 'vue'

import { Problem } from '@/api/client'

/** A save that was refused, since what it was made from has changed: what is there now, and how to save over that. */
export interface Clash {
  current: Record<string, unknown>
  again: () => void
}

/** Keeps the refused save at hand until it is decided. */
export function useConflict() {
  const clash = ref<Clash>()

  /** Whether an error is such a refusal; `again` saves over the version that is there now, and what that holds. */
  function caught(error: unknown, again: (version: string, there: Record<string, unknown>) => void): boolean {
    if (!(error instanceof Problem) || error.status !== 412) return false
    clash.value = {
      current: error.current,
      again: () => {
        clash.value = undefined
        again(error.version, error.current)
      },
    }
    return true
  }

  return { clash, caught, settle: () => (clash.value = undefined) }
}
