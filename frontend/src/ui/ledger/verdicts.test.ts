import { expect, it } from 'vitest'

import { forStudents, forYou, worstFirst, worstOf } from './verdicts'

it('takes the worst facet for the whole', () => {
  expect(worstOf({ type: 'same', stem: 'recast', key: 'changed' })).toBe('changed')
  expect(worstOf({ type: 'same', media: 'lost', key: 'changed' })).toBe('lost')
  expect(worstOf({})).toBe('same')
})

it('tells what students see from what only the instructor sees, and a passage is read by students', () => {
  const gone = { facets: { type: 'same', metadata: 'lost', grouping: 'lost' } as const, notes: [] }
  expect([forStudents(gone), forYou(gone)]).toEqual(['same', 'lost'])
  const unread = { ...gone, notes: [{ code: 'stimulus-lost' }] }
  expect(forStudents(unread)).toBe('lost')
  const key = { facets: { type: 'same', metadata: 'same', key: 'changed' } as const, notes: [] }
  expect(worstFirst([gone, key])).toEqual([key, gone])
})
