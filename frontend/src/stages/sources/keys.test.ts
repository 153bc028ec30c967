import { expect, it } from 'vitest'

import type { Schemas } from '@/api/client'

import { likeliestTest } from './keys'

const test = (name: string, errors = 0) =>
  ({ id: 1, name, worst: { error: errors } }) as unknown as Schemas['SourceOut']

it('takes the test whose name is most like that of the keys', () => {
  const tests = [test('week-3.docx'), test('week-2.docx'), test('final.docx')]
  expect(likeliestTest('week-2 key.txt', tests)?.name).toBe('week-2.docx')
  expect(likeliestTest('Final_answers.csv', tests)?.name).toBe('final.docx')
})

it('takes the test with most items without a key where names say nothing', () => {
  expect(likeliestTest('key.txt', [test('a.docx', 1), test('b.docx', 9)])?.name).toBe('b.docx')
  expect(likeliestTest('key.txt', [])).toBeUndefined()
})
