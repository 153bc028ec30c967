import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import DecisionBar from '@/stages/check/DecisionBar.vue'
import FindingsPanel from '@/stages/check/FindingsPanel.vue'
import SummaryLine from '@/stages/check/SummaryLine.vue'
import PartsView from '@/stages/quizzes/PartsView.vue'
import SettingsView from '@/stages/quizzes/SettingsView.vue'
import { QUIZ } from '@/stages/quizzes/testing'
import SourceRow from '@/stages/sources/SourceRow.vue'
import { COURSE, finding, readItem, reading, shown, source } from '@/testing'

import { handleKey } from './shortcuts'

const READER = { 'GET /api/courses/1': { ...COURSE, owner: 'tobin', role: 'reader' } }
const found = finding({ repair: 'x', ways: [{ name: 'x', label: 'Mend it', for_all: true, marks: '' }] })
const nothing = { mutate: () => undefined, isPending: { value: false } }
const work = { edit: nothing, addDraw: nothing, addItems: nothing, share: nothing }

/** Views that change something, as somebody sees them; and what of it acts: what can be pressed or typed into. */
const VIEWS: [string, unknown, Record<string, unknown>, string[]][] = [
  ['findings', FindingsPanel, { findings: [found], countOf: () => 2, alike: () => 1, busy: false }, []],
  ['parts of a quiz', PartsView, { quiz: QUIZ, work }, ['Fold', '▾', '12345']],
  ['settings of a quiz', SettingsView, { quiz: QUIZ, work }, []],
  ['a source', SourceRow, { source: source({ waiting: 6, sound: 4 }), course: 1, tests: [] }, []],
  [
    'what was read',
    SummaryLine,
    { reading: reading(), flagged: 1, elsewhere: 0, waiting: 4, canGoBack: true, asProof: false },
    ['need', 'pieces', 'In the pools already?', 'Advice', 'As a proof'],
  ],
]

async function acting(
  view: unknown,
  props: Record<string, unknown>,
  answers: Record<string, unknown>,
): Promise<string[]> {
  const { view: made } = await shown(view as never, props, { at: '/c/1/check/5', answers })
  await flushPromises()
  const acts = made.findAll<HTMLButtonElement>('button, input, select').filter((entry) => {
    const field = entry.element.closest('fieldset')
    return !entry.element.disabled && !field?.disabled
  })
  return acts.map((entry) => entry.text())
}

it.each(VIEWS)('gives a reader of %s nothing that changes it', async (_name, view, props, looks) => {
  const left = await acting(view, props, READER)
  expect(left.filter((words) => !looks.some((look) => words.includes(look)))).toEqual([])
  expect((await acting(view, props, {})).length).toBeGreaterThan(left.length)
})

it('decides nothing for a reader by keys', async () => {
  const props = { item: readItem(1), outcomes: [] }
  const { view } = await shown(DecisionBar, props, { at: '/c/1/check/5', answers: READER })
  handleKey(new KeyboardEvent('keydown', { key: 'f' }))
  await flushPromises()
  expect(view.emitted('decide')).toBeUndefined()
  const { view: mine } = await shown(DecisionBar, props, { at: '/c/1/check/5' })
  await vi.waitFor(() => {
    handleKey(new KeyboardEvent('keydown', { key: 'f' }))
    expect(mine.emitted('decide')).toBeTruthy()
  })
})
