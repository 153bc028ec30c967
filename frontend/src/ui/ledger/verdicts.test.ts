import { expect, it } from 'vitest'

import { worstOf } from './verdicts'

it('takes the worst facet for the whole', () => {
  expect(worstOf({ type: 'same', stem: 'recast', key: 'changed' })).toBe('changed')
  expect(worstOf({ type: 'same', media: 'lost', key: 'changed' })).toBe('lost')
  expect(worstOf({})).toBe('same')
})
