import { expect, it } from 'vitest'

import { worstFirst, worstOf } from './verdicts'

it('takes the worst facet for the whole', () => {
  expect(worstOf({ type: 'same', stem: 'recast', key: 'changed' })).toBe('changed')
  expect(worstOf({ type: 'same', media: 'lost', key: 'changed' })).toBe('lost')
  expect(worstOf({})).toBe('same')
})

it('puts the worst for students first, then the worst for the instructor; equals stay as they stood', () => {
  const entry = (name: string, for_students: string, for_you: string) => ({ name, for_students, for_you })
  const entries = [
    entry('a', 'same', 'lost'),
    entry('b', 'changed', 'same'),
    entry('c', 'same', 'lost'),
    entry('d', 'same', 'same'),
  ]
  const order = ['same', 'added', 'recast', 'changed', 'lost']
  expect(worstFirst(entries, order).map(({ name }) => name)).toEqual(['b', 'a', 'c', 'd'])
})
