import { useSessionStorage } from '@vueuse/core'

import type { Schemas } from '@/api/client'

/** What was selected in the pools to be handed on, as it was selected: all that match stay all that match. */
export interface HandingOn {
  course: number
  said: string
  selection: Schemas['Selection']
}

export function useHandingOn() {
  return useSessionStorage<HandingOn | null>('rogatum-handing-on', null, {
    serializer: { read: (text) => JSON.parse(text) as HandingOn | null, write: JSON.stringify },
  })
}
