import { describe, expect, it } from 'vitest'

import { jobWatch, wordsOf } from './jobs'

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

it.each([
  [{ work: 'read', result: { items: 6 } }, 'Take: 6 items found.'],
  [{ work: 'take', result: { taken: 6, duplicates: [1, 2], near: [] } }, '6 items taken. 2 were in the pools already'],
  [
    { work: 'take', result: { taken: 6, quizzes: [{ title: 'Week 3', left_out: 1, elsewhere: 0, besides: 0 }] } },
    '6 items taken. The quiz “Week 3” was made without 1 item that was not taken.',
  ],
  [
    { work: 'take', result: { taken: 6, quizzes: [{ title: 'Week 3', left_out: 0, elsewhere: 2, besides: 3 }] } },
    'The quiz “Week 3” was made. Its draws do not give 2 of its items: they lie in other pools. Its draws give 3 items besides',
  ],
  [{ work: 'hand-off', result: {} }, 'Take: done.'],
])('says what came of %o', (fields, words) => {
  expect(wordsOf({ label: 'Take', ...fields } as never)).toContain(words)
})

it.each([
  ['change-items', { changed: 9, stays: 2 }, 'Label: 9 changed, 2 could not be.'],
  ['alike', { open: 3 }, '3 pairs of near-duplicates are open.'],
  ['alike', { open: 0 }, 'No near-duplicates are open.'],
])('tells what came of %s', (work, result, words) => {
  expect(wordsOf({ work, label: 'Label', result })).toBe(words)
})
