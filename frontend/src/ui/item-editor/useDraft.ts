import { watchDebounced } from '@vueuse/core'
import { reactive, ref, toRaw } from 'vue'

import type { AnyItem } from './types'

const PREFIX = 'rogatum-draft:'
const copied = (item: AnyItem) => JSON.parse(JSON.stringify(item)) as AnyItem

/**
 * An item while it is being edited. What was typed is kept under a key, so that leaving the page loses nothing: the next editor of
 * the same key goes on with it and says so. Without a key nothing is kept. `seen` is the version of the item that it was begun on: a
 * draft is saved over that one, not over what has come since.
 */
export function useDraft(item: AnyItem, key: string | undefined, seen: string, storage: Storage = window.localStorage) {
  const name = key ? PREFIX + key : ''
  const kept = name ? storage.getItem(name) : null
  const found = kept ? read(kept) : undefined
  const resumed = ref(Boolean(found && JSON.stringify(found.item) !== JSON.stringify(item)))
  const version = ref(resumed.value && found ? found.seen : seen)
  const draft = reactive(copied(resumed.value && found ? found.item : item)) as AnyItem
  const stop = watchDebounced(
    draft,
    () => name && storage.setItem(name, JSON.stringify({ item: toRaw(draft), seen: version.value })),
    {
      debounce: 300,
      maxWait: 1500,
      deep: true,
    },
  )

  /** Puts another item in the place of the draft, as it is. */
  function become(other: AnyItem): void {
    const fields = draft as unknown as Record<string, unknown>
    Object.keys(fields).forEach((field) => Reflect.deleteProperty(fields, field))
    Object.assign(fields, copied(other))
  }
  function forget(): void {
    stop()
    if (name) storage.removeItem(name)
  }
  function startAnew(): void {
    become(item)
    resumed.value = false
    version.value = seen
    if (name) storage.removeItem(name)
  }
  return { draft, resumed, version, become, forget, startAnew }
}

interface Kept {
  item: AnyItem
  seen: string
}

function read(kept: string): Kept | undefined {
  try {
    const found = JSON.parse(kept) as Partial<Kept>
    return found.item && typeof found.seen === 'string' ? { item: found.item, seen: found.seen } : undefined
  } catch {
    return undefined
  }
}
