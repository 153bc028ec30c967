import type { Schemas } from '@/api/client'

type Job = Pick<Schemas['JobOut'], 'id' | 'state'>

const ENDED = new Set(['done', 'failed'])

/**
 * Tells which jobs ended since the last look. A quick job may be seen for the first time when it has ended;
 * what had ended at the first look of all is old.
 */
export function jobWatch<J extends Job>(): (course: number, jobs: J[]) => J[] {
  let states = new Map<string, string>()
  let watched: number | undefined
  return (course, jobs) => {
    const first = watched !== course
    const ended = jobs.filter((job) => ENDED.has(job.state) && states.get(job.id) !== job.state)
    states = new Map(jobs.map((job) => [job.id, job.state]))
    watched = course
    return first ? [] : ended
  }
}

interface QuizMade {
  title: string
  left_out: number
  elsewhere: number
  besides: number
}

function quizMade({ title, left_out, elsewhere, besides }: QuizMade): string {
  const rest = left_out === 1 ? ' without 1 item that was not taken' : ` without ${left_out} items that were not taken`
  const lacking = ` Its draws do not give ${elsewhere} of its items: they lie in other pools.`
  const more = ` Its draws give ${besides} items besides, which lie in the same pools.`
  return ` The quiz “${title}” was made${left_out ? rest : ''}.${elsewhere ? lacking : ''}${besides ? more : ''}`
}

/** What came of a job, in words. */
export function wordsOf(job: Pick<Schemas['JobOut'], 'work' | 'label' | 'result'>): string {
  const result = (job.result ?? {}) as {
    items?: number
    changed?: number
    stays?: number
    left?: number
    open?: number
    taken?: number
    duplicates?: number[]
    near?: unknown[]
    quizzes?: QuizMade[]
  }
  if (job.work === 'read') return `${job.label}: ${result.items} items found.`
  if (job.work === 'take' || job.work === 'take-all') {
    const doubles = result.duplicates?.length
      ? ` ${result.duplicates.length} were in the pools already and stayed out.`
      : ''
    const near = result.near?.length ? ` ${result.near.length} are much like an item that is there.` : ''
    const made = result.quizzes?.map(quizMade).join('') ?? ''
    return `${result.taken} items taken.${made}${doubles}${near}`
  }
  if (job.work === 'change-items')
    return `${job.label}: ${result.changed} changed${result.stays ? `, ${result.stays} could not be` : ''}.`
  if (job.work === 'undo') {
    const left = result.left ? ` ${result.left} stayed: somebody changed them meanwhile.` : ''
    return `${job.label}: done.${left}`
  }
  if (job.work === 'alike')
    return result.open ? `${result.open} pairs of near-duplicates are open.` : 'No near-duplicates are open.'
  return `${job.label}: done.`
}
