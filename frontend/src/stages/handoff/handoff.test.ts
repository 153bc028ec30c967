import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it, vi } from 'vitest'

import { nth, shown, sure } from '@/testing'

import AsFile from './AsFile.vue'
import HandOffs from './HandOffs.vue'
import Ledger from './Ledger.vue'

const format = (name: string, label: string, fields = {}) => ({
  name,
  label,
  suffix: '',
  read: true,
  write: true,
  types: [],
  carries: [],
  lacks: [],
  settings_lacking: ['the time limit'],
  copies: ['teacher'],
  most_versions: 1,
  ...fields,
})
const FORMATS = [
  format('qti-1.2', 'QTI 1.2'),
  format('docx', 'Word document', {
    copies: ['teacher', 'student', 'key list'],
    lacks: ['draws'],
    settings_lacking: ['the time limit'],
  }),
  format('pdf', 'Print', { copies: ['teacher', 'student'], most_versions: 6 }),
  format('old', 'Read only', { write: false }),
]
const totals = { same: 3, recast: 0, changed: 0, lost: 1, added: 0 }
const before = {
  id: 8,
  title: 'Week 3',
  format: 'docx',
  label: 'Word document',
  items: 4,
  size: 5000,
  created: '2026-09-01T10:00:00Z',
  totals,
  for_students: totals,
  for_you: { ...totals, lost: 0, same: 4 },
  file_name: 'w.docx',
  made_as: 'for students',
}
const LISTS = {
  'GET /api/formats': FORMATS,
  'GET /api/courses/1/pools': [{ id: 2, name: 'Texture', parent: null, items: 9 }],
  'GET /api/courses/1/quizzes': [],
  'GET /api/courses/1/handoffs': [before],
  'GET /api/courses/1/jobs': [],
  'GET /api/receivers': [],
  'POST /api/courses/1/handoffs': { id: 'j', state: 'waiting' },
}
const words = (text: string) => text.replace(/\s+/g, ' ')

beforeEach(() => {
  localStorage.clear()
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400)
})

async function asFile(what = {}, also = {}) {
  const { view, asked } = await shown(AsFile, { what }, { at: '/c/1/hand-off', answers: { ...LISTS, ...also } })
  const choose = (label: string) =>
    sure(view.findAll('.formats label').find((entry) => entry.text().startsWith(label)))
      .find('input')
      .setValue()
  const made = async () => {
    await view.find('form').trigger('submit')
    await flushPromises()
    return sure(asked.filter((call) => call.method === 'POST').at(-1)).body
  }
  return { view, choose, made }
}

it('says of a quiz which of its settings a format has no place for', async () => {
  const { view } = await asFile({ quiz: 3 })
  expect(words(view.text())).toContain('QTI 1.2 has no place for the time limit')
})

it('offers the formats that are written, each with what it has no place for', async () => {
  const { view } = await asFile()
  expect(view.findAll('.formats label').map((entry) => words(entry.text()))).toEqual([
    'QTI 1.2 has a place for everything',
    'Word document has no place for draws',
    'Print has a place for everything',
  ])
})

it('asks for whom only where that makes a difference', async () => {
  const { view, choose, made } = await asFile()
  expect(view.findAll('.options')).toHaveLength(0)
  await choose('Word')
  expect(view.findAll('.options label').map((entry) => entry.text())).toEqual([
    'teacher: key, points, feedback',
    'students: no key',
    'students, with the key as a list at the end',
  ])
  await nth(view.findAll('.options input'), 2).setValue()
  expect(await made()).toMatchObject({ format: 'docx', copy_for: 'key list', versions: 1 })
})

it('writes a paper test in versions, and forgets them where a format has none', async () => {
  const { view, choose, made } = await asFile()
  await choose('Print')
  expect(view.find('.options').text()).toContain('students, with the key on a page of its own')
  await view.find('#versions').setValue('3')
  expect(words(view.text())).toContain('each in an order of its own')
  await choose('QTI')
  expect(await made()).toMatchObject({ format: 'qti-1.2', copy_for: 'teacher', versions: 1 })
})

it('asks of a quiz that draws what stands on paper, and with which seed', async () => {
  const quiz = { parts: [{ kind: 'fixed' }, { kind: 'draw' }] }
  const { view, choose, made } = await asFile({ quiz: 3 }, { 'GET /api/quizzes/3': quiz })
  expect(view.find('#draws').exists()).toBe(false)
  await choose('Print')
  expect(view.find('[aria-labelledby=draws]').text()).toContain('one set drawn for each version')
  await view.find('.seed').setValue('4821')
  expect(await made()).toMatchObject({ format: 'pdf', draws: 'drawn', seed: '4821' })
  await nth(view.findAll('input[name=draws]'), 1).setValue()
  expect(view.find('.seed').exists()).toBe(false)
  expect(await made()).toMatchObject({ format: 'pdf', draws: 'stock', seed: '' })
})

it('says of what was handed on before how it was made and what became of it', async () => {
  const { view } = await shown(HandOffs, {}, { at: '/c/1/hand-off', answers: LISTS })
  const history = view.find('.history')
  expect(words(history.text())).toContain('Word document, for students4 items')
  expect(history.find('.lost').text()).toContain('1 lost')
  expect(history.find('a').attributes('href')).toBe('/c/1/hand-off/8')
})

const entry = (title: string, facets: Record<string, string>, notes: unknown[] = [], for_students = 'same') => ({
  a: title,
  b: title,
  title,
  facets,
  notes,
  for_students,
  for_you: 'same',
})
const note = { facet: 'key', code: 'key-lost', message: 'The key did not come over.', a: 'clay', b: '' }
const ITEMS = [
  entry('First', { key: 'same', stem: 'same' }, [], 'same'),
  entry('Second', { key: 'lost', stem: 'same' }, [note], 'lost'),
  entry('Third', { key: 'same', stem: 'recast' }, [], 'recast'),
]

async function ledger(more = {}, quizzes: unknown[] = []) {
  const ledger = { items: ITEMS, only_in_a: [], only_in_b: [], totals, for_students: totals, for_you: totals, quizzes }
  const answer = { ...before, totals, ledger, ...more }
  return shown(Ledger, {}, { at: '/c/1/hand-off/8', answers: { 'GET /api/handoffs/8': answer } })
}

it('shows the ledger item by item, and only what was lost where that is asked', async () => {
  const { view } = await ledger()
  expect(view.text()).toContain('look before you hand it on')
  expect(view.findAll('.line.body').map((row) => row.find('button').text())).toEqual(['Second', 'Third', 'First'])
  await sure(view.findAll('.totals button').find((button) => button.text().includes('lost'))).trigger('click')
  expect(view.findAll('.line.body').map((row) => row.find('button').text())).toEqual(['Second'])
})

it('says what differs, on both sides', async () => {
  const { view } = await ledger()
  await nth(view.findAll('.line.body'), 0).trigger('click')
  expect(words(view.find('.notes').text())).toContain('The key did not come over.meantclayread backnothing')
  await nth(view.findAll('.line.body'), 2).trigger('click')
  expect(view.find('.notes').text()).toContain('Every facet is the same')
})

it('shows what became of a quiz, setting by setting', async () => {
  const quiz = {
    a: '7',
    b: 'q1',
    title: 'Week 3',
    facets: { title: 'same', draws: 'same', time_limit: 'lost' },
    notes: [
      { facet: 'time_limit', code: 'not-carried', message: 'GIFT has no place for the time limit.', a: '25', b: '' },
    ],
  }
  const { view } = await ledger({}, [quiz])
  expect(words(view.find('.quizzes').text())).toContain('Quiz Week 3∅lost the time limit lost')
  await view.find('.quizzes button').trigger('click')
  expect(view.find('.notes').text()).toContain('GIFT has no place for the time limit.')
})

it('says that nothing was lost where that is so, and offers file and ledger', async () => {
  const { view } = await ledger({ totals: { ...totals, lost: 0 }, sound: true })
  expect(view.text()).toContain('nothing was changed, nothing was lost')
  expect(view.findAll('header a').map((link) => link.attributes('href'))).toEqual([
    '/api/handoffs/8/page',
    '/api/handoffs/8/ledger',
    '/api/handoffs/8/file',
  ])
})
