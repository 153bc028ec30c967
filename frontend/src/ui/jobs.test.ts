import { describe, expect, it } from 'vitest'

import { jobWatch } from './jobs'

type Job = { id: string; state: 'waiting' | 'running' | 'done' | 'failed' }
const job = (id: string, state: Job['state']): Job => ({ id, state })

describe('jobs that end', () => {
  it('are told once, also when they are quicker than the first look at them', () => {
    const ended = jobWatch<Job>()
    expect(ended(1, [job('old', 'done')])).toEqual([])
    expect(ended(1, [job('quick', 'done'), job('slow', 'running'), job('old', 'done')])).toEqual([job('quick', 'done')])
    expect(ended(1, [job('quick', 'done'), job('slow', 'failed')])).toEqual([job('slow', 'failed')])
    expect(ended(1, [job('quick', 'done'), job('slow', 'failed')])).toEqual([])
  })

  it('of another course are old at its first look', () => {
    const ended = jobWatch<Job>()
    ended(1, [])
    expect(ended(2, [job('there', 'done')])).toEqual([])
    expect(ended(2, [job('there', 'done'), job('new', 'done')])).toEqual([job('new', 'done')])
  })
})
