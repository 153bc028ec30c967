import { expect, it } from 'vitest'

import { useQuestions } from './asking'
import { said } from './say'

/** A question that is answered, or refused, when the test says so. */
function question() {
  let answer: (value: string) => void = () => undefined
  let refuse: (error: Error) => void = () => undefined
  const open = () =>
    new Promise<string>((resolve, reject) => {
      answer = resolve
      refuse = reject
    })
  return { open, answer: (value: string) => answer(value), refuse: () => refuse(new Error('No.')) }
}
const turn = () => new Promise<void>((resolve) => queueMicrotask(resolve)).then(() => undefined)

it('asks one question after the other, and uses the answers in that order', async () => {
  const { ask, settled } = useQuestions()
  const used: string[] = []
  const [first, second] = [question(), question()]
  ask(first.open, (answer) => used.push(answer))
  ask(second.open, (answer) => used.push(answer))
  await turn()
  second.answer('too early')
  first.answer('one')
  await turn()
  await turn()
  await turn()
  second.answer('two')
  expect(await settled()).toBe(true)
  expect(used).toEqual(['one', 'two'])
})

it('waits for what is asked while it waits', async () => {
  const { ask, settled } = useQuestions()
  const used: string[] = []
  ask(
    async () => 'one',
    (answer) => {
      used.push(answer)
      ask(
        async () => 'two',
        (next) => used.push(next),
      )
    },
  )
  expect(await settled()).toBe(true)
  expect(used).toEqual(['one', 'two'])
})

it('says what was refused to who waits, and goes on afterwards', async () => {
  const { ask, settled, refused } = useQuestions()
  const used: string[] = []
  const bad = question()
  ask(bad.open, (answer) => used.push(answer))
  await turn()
  bad.refuse()
  expect(await settled()).toBe(false)
  expect(said.value?.level).toBe('problem')
  ask(
    async () => 'after',
    (answer) => used.push(answer),
  )
  expect(await settled()).toBe(true)
  expect([used, refused.value]).toEqual([['after'], 1])
})
