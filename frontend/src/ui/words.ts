import { reactive, ref } from 'vue'

import type { Schemas } from '@/api/client'

/** The lists that the core knows, in words. They come with the session, before any view is shown; none is typed here again. */
export const WORDS = reactive<Schemas['Vocabulary']>({
  types: {},
  formats: {},
  key_habits: {},
  columns: {},
  facets: [],
  own_facets: [],
  quiz_facets: {},
  verdicts: [],
  levels_to_look_at: [],
  advice: {},
  types_to_make: [],
  metadata: {},
})

export function points(value: number | null | undefined): string {
  if (value === null || value === undefined) return 'no points'
  return `${Number(value.toFixed(3))} ${value === 1 ? 'point' : 'points'}`
}

export function items(count: number): string {
  return `${count.toLocaleString('en')} ${count === 1 ? 'item' : 'items'}`
}

export function size(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  return bytes < 1_000_000 ? `${(bytes / 1000).toFixed(0)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
}

/** The time zone that moments are told in: that of the course that is open, else the browser's. */
export const zone = ref<string>()

export function when(iso: string): string {
  const told = { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' } as const
  return new Date(iso).toLocaleString('en-GB', { ...told, timeZone: zone.value })
}

export function day(iso: string): string {
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', timeZone: zone.value })
}
