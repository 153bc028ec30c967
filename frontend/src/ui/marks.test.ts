import { expect, it } from 'vitest'

import { Problem } from '@/api/client'
import VerdictMark from './ledger/VerdictMark.vue'
import { shown } from '@/testing'

import ErrorState from './ErrorState.vue'
import LevelMark from './LevelMark.vue'
import RichText from './RichText.vue'
import { items, points, size } from './words'

it.each([
  ['same', '='],
  ['recast', '≈'],
  ['changed', '≠'],
  ['lost', '∅'],
  ['added', '+'],
])('shows the verdict %s by a sign and a word', async (verdict, sign) => {
  const { view } = await shown(VerdictMark, { verdict })
  expect(view.text()).toBe(`${sign}${verdict}`)
  const { view: counted } = await shown(VerdictMark, { verdict, count: 3 })
  expect(counted.text()).toBe(`${sign}3 ${verdict}`)
})

it('shows a level by a shape and a word', async () => {
  const { view } = await shown(LevelMark, { level: 'warning' })
  expect(view.text()).toBe('warning')
  expect(view.find('.shape').attributes('aria-hidden')).toBe('true')
})

it('shows what went wrong and the way out, or what to do where nothing is known', async () => {
  const { view } = await shown(ErrorState, { error: new Problem(404, 'It is gone.', 'Pool 3', 'Choose another.') })
  expect(view.attributes('role')).toBe('alert')
  expect(view.text()).toContain('It is gone.')
  expect(view.text()).toContain('Pool 3 Choose another.')
  const { view: unknown } = await shown(ErrorState, { error: new Error('x') })
  expect(unknown.text()).toContain('Load it again.')
})

it('shows content with its media in the course, and follows what it is given', async () => {
  const picture = `media/${'a'.repeat(64)}.png`
  const { view } = await shown(
    RichText,
    { content: `<p>Look: <img src="${picture}" alt="a pit"></p><script>x</script>` },
    { at: '/c/7/check' },
  )
  expect(view.find('img').attributes('src')).toBe(`/api/courses/7/${picture}`)
  expect(view.html()).not.toContain('script')
  await view.setProps({ content: 'other' })
  expect(view.text()).toBe('other')
})

it('counts in words', () => {
  expect([points(null), points(1), points(2.5), points(1 / 3)]).toEqual([
    'no points',
    '1 point',
    '2.5 points',
    '0.333 points',
  ])
  expect([items(1), items(20_000)]).toEqual(['1 item', '20,000 items'])
  expect([size(85), size(12_400), size(4_260_000)]).toEqual(['85 B', '12 kB', '4.3 MB'])
})
