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
