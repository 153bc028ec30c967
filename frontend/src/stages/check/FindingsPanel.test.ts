import { expect, it } from 'vitest'

import { finding, nth, shown, sure } from '@/testing'

import FindingsPanel from './FindingsPanel.vue'

const panel = (findings: ReturnType<typeof finding>[], count = 1, busy = false) =>
  shown(FindingsPanel, { findings, countOf: () => count, alike: () => count, busy })

it('says the worst first, and what was looked at last', async () => {
  const { view } = await panel([
    finding({ level: 'note', message: 'A note.' }),
    finding({ level: 'error', message: 'Looked at.', dismissed: true }),
    finding({ level: 'warning', message: 'A warning.' }),
    finding({ level: 'error', message: 'An error.' }),
  ])
  expect(
    view.findAll('.message').map((message) =>
      message
        .text()
        .replace(/line.*/, '')
        .trim(),
    ),
  ).toEqual(['An error.', 'A warning.', 'A note.', 'Looked at.'])
  expect(nth(view.findAll('li'), -1).findAll('button')).toHaveLength(0)
})

it('repairs one, or all that have it', async () => {
  const ways = [
    { name: 'only-1', label: 'Only A', for_all: false, marks: '' },
    { name: 'only-2', label: 'Only B', for_all: false, marks: '' },
    { name: 'to-multiple-response', label: 'Both: multiple response', for_all: true, marks: '' },
  ]
  const mendable = finding({ repair: 'to-multiple-response', ways })
  const { view } = await panel([mendable], 14)
  const buttons = view.findAll('.el-button')
  expect(buttons.map((button) => button.text().replace(/\s+/g, ' '))).toEqual([
    'Only A',
    'Only B',
    'Both: multiple response r',
    'Both: multiple response on all 14 R',
  ])
  for (const index of [1, 3]) await nth(buttons, index).trigger('click')
  expect(view.emitted('repair')).toEqual([
    [mendable, 'only-2', false],
    [mendable, 'to-multiple-response', true],
  ])
})

it('offers no repair where there is none, and none for all where it is the only one', async () => {
  const { view } = await panel([finding()])
  expect(view.findAll('.el-button')).toHaveLength(0)
  await view.find('.link-button').trigger('click')
  expect(view.findAll('.link-button')).toHaveLength(1)
  expect(view.emitted('dismiss')).toEqual([[finding(), false]])
})

it('holds repairs back while one is under way, and shows nothing where nothing was found', async () => {
  const { view } = await panel(
    [finding({ repair: 'x', ways: [{ name: 'x', label: 'Mend it', for_all: true, marks: '' }] })],
    2,
    true,
  )
  expect(view.findAll('.el-button').every((button) => button.attributes('disabled') !== undefined)).toBe(true)
  const { view: none } = await panel([])
  expect(none.find('ul').exists()).toBe(false)
})

it('shows both readings of a doubt, and reads one or all that differ so the other way', async () => {
  const other = {
    kind: '{a}) {n}.',
    now: 'a) sand | b) clay',
    then: '1. fine | 2. coarse',
    roles: { x1: 'choice' as const },
  }
  const doubt = finding({ code: 'read-otherwise', level: 'warning', other })
  const { view } = await panel([doubt], 3)
  expect(view.find('.ways').text()).toContain('a) sand | b) clay')
  expect(view.find('.ways').text()).toContain('1. fine | 2. coarse')
  const [one, all] = view.findAll('.el-button')
  expect(sure(all).text()).toContain('all 3 that differ so')
  await sure(one).trigger('click')
  await sure(all).trigger('click')
  expect(view.emitted('other')).toEqual([
    [doubt, false],
    [doubt, true],
  ])
})
