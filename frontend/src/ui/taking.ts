import type { Schemas } from '@/api/client'

/** What is offered first to be taken: the sound items where there are any, else all that wait. Each button says this number. */
export function takenFirst({ sound, waiting }: { sound: number; waiting: number }): {
  which: 'sound' | 'all'
  count: number
} {
  return sound > 0 && sound < waiting ? { which: 'sound', count: sound } : { which: 'all', count: waiting }
}

/** The pools that items come into, in words: the one by its name, else how many. What is made only to hold them does not count. */
export function intoPools(foreseen?: Schemas['ForeseenOut']): string {
  const pools = (foreseen?.pools ?? []).filter((pool) => pool.items)
  return pools.length === 1 ? pools.flatMap((pool) => pool.path).join(' / ') : `${pools.length} pools`
}
