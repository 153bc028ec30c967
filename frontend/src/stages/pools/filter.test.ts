import { flushPromises } from '@vue/test-utils'
import { computed, defineComponent, h, ref } from 'vue'
import { beforeEach, expect, it, vi } from 'vitest'
import { useRoute } from 'vue-router'

import { nth, shown, sure } from '@/testing'
import { WORDS } from '@/ui/words'

import FilterBar from './FilterBar.vue'
import { addressOf, CONDITIONS, filterOf, useFilter, wordsOf } from './useFilter'

beforeEach(() => void Object.assign(WORDS.types, { essay: 'essay', numeric: 'numeric' }))

it('reads from an address what it writes into one', () => {
  const filter = { pool: 4, with_subpools: false, query: 'clay', type: 'essay', picture: false, since: '2026-11-01' }
  const address = addressOf(filter)
  expect(address.picture).toBe('false')
  const query = Object.fromEntries(Object.entries(address).filter(([, value]) => value !== undefined))
  expect(filterOf(query as Record<string, string>)).toEqual(filter)
  expect(filterOf({ type: '', odd: 'x' })).toEqual({})
})

it('puts each condition in words', () => {
  const by = (name: string) => sure(CONDITIONS.find((condition) => condition.name === name))
  expect(wordsOf(by('type'), 'essay')).toBe('essay')
  expect(wordsOf(by('outcome'), '(none)')).toBe('none')
  expect(wordsOf(by('quiz'), '7', [{ id: 7, title: 'Week 3' }])).toBe('Week 3')
  expect(wordsOf(by('handed'), 'changed')).toBe('changed since')
  expect(wordsOf(by('findings'), 'two-keys')).toBe('two keys')
})

const COUNTS = { counts: { type: { numeric: 3, essay: 12, '(none)': 1 }, advice: { any: 4, 'key-longest': 4 } } }
const KEPT = [{ id: 5, name: 'Hard essays', filter: { type: 'essay', difficulty: 'hard' } }]

async function bar(at: string) {
  let address = computed(() => ({}))
  const Host = defineComponent({
    setup() {
      const route = useRoute()
      const filtering = useFilter(ref(0))
      address = computed(() => route.query)
      return () => h(FilterBar, { course: 1, filtering, open: true })
    },
  })
  const answers = {
    'GET /api/courses/1/items/counts': COUNTS,
    'GET /api/courses/1/quizzes': [],
    'GET /api/courses/1/filters': KEPT,
    'POST /api/courses/1/filters': { id: 6, name: 'Mine', filter: {} },
    'DELETE /api/courses/1/filters/5': { done: true },
  }
  const { view, asked } = await shown(Host, {}, { at, answers })
  return { view, asked, address: () => address.value }
}

it('offers the values of a condition with how many they leave, and puts the choice into the address', async () => {
  const { view, address } = await bar('/c/1/pools')
  const type = view.find('select[aria-label="Filter by type"]')
  expect(type.findAll('option').map((entry) => entry.text())).toEqual(['all', 'essay · 12', 'numeric · 3', 'none · 1'])
  await type.setValue('essay')
  await flushPromises()
  expect(address()).toEqual({ type: 'essay' })
  expect(view.find('.chip').text()).toContain('Type: essay')
  await view.find('.chip').trigger('click')
  await flushPromises()
  expect(address()).toEqual({})
})

it('keeps a filter under a name, shows one that was kept, and forgets it', async () => {
  const { view, asked, address } = await bar('/c/1/pools?type=numeric&q=clay')
  const button = (words: string) => sure(view.findAll('button').find((entry) => entry.text() === words))
  await button('Keep this filter').trigger('click')
  await view.find('input[aria-label="Name of the filter"]').setValue('Mine')
  await view.find('form').trigger('submit')
  await flushPromises()
  const kept = sure(asked.find((call) => call.method === 'POST'))
  expect(kept.body).toEqual({ name: 'Mine', filter: { type: 'numeric', query: 'clay' } })
  await button('Hard essays').trigger('click')
  await flushPromises()
  expect(address()).toEqual({ type: 'essay', difficulty: 'hard' })
  await view.find('button[aria-label="Forget the filter Hard essays"]').trigger('click')
  await vi.waitFor(() => expect(asked.some((call) => call.method === 'DELETE')).toBe(true))
  await button('Clear').trigger('click')
  await flushPromises()
  expect(address()).toEqual({})
  expect(nth(view.findAll('select'), 0).element.value).toBe('')
})
