/** What is offered first to be taken: the sound items where there are any, else all that wait. Each button says this number. */
export function takenFirst({ sound, waiting }: { sound: number; waiting: number }): {
  which: 'sound' | 'all'
  count: number
} {
  return sound > 0 && sound < waiting ? { which: 'sound', count: sound } : { which: 'all', count: waiting }
}
