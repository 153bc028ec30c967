import { expect, it } from 'vitest'
import { defineComponent, h } from 'vue'

import { shown } from '@/testing'

import { useRemembered } from './remembered'

/** What is the same in all courses: how a person likes the screen, and what is kept by the number of a pool. */
const OF_THE_PERSON = ['theme', 'source-width', 'markup', 'filters-open', 'change', 'columns', 'at-hand']
const SOURCES = import.meta.glob('../**/*.{ts,vue}', { query: '?raw', import: 'default', eager: true })

it('remembers a choice in its course alone', async () => {
  const pattern = (): ReturnType<typeof useRemembered<string>> => {
    throw new Error('not set up')
  }
  const held = { pattern }
  const View = defineComponent({
    setup() {
      const found = useRemembered<string>('pattern', '{chapter}')
      held.pattern = () => found
      return () => h('p', found.value)
    },
  })
  await shown(View, {}, { at: '/c/1/sources' })
  held.pattern().value = 'Tides of one course'
  const other = await shown(View, {}, { at: '/c/2/sources' })
  expect(other.view.text()).toBe('{chapter}')
  const again = await shown(View, {}, { at: '/c/1/sources' })
  expect(again.view.text()).toBe('Tides of one course')
})

it('lets nothing leak from one course into another: what is kept under one name for all is of the person', () => {
  const names = Object.entries(SOURCES)
    .filter(([path]) => !path.includes('.test.'))
    .flatMap(([, text]) => [...String(text).matchAll(/useStorage(?:<[^(]*>)?\(\s*'rogatum-([a-z-]+)'/g)])
    .map((match) => match[1])
  expect(names.filter((name) => !OF_THE_PERSON.includes(name ?? ''))).toEqual([])
  expect(names.length).toBeGreaterThan(4)
})
