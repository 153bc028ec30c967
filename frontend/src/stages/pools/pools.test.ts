import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { nth, shown, sure } from '@/testing'

import PoolTree from './PoolTree.vue'
import { treeOf } from './usePools'

const POOLS = [
  { id: 1, name: 'Chapter 2', parent: null, items: 0 },
  { id: 2, name: 'Texture', parent: 1, items: 9, version: 'v' },
  { id: 3, name: 'Structure', parent: 1, items: 4, version: 'v' },
  { id: 4, name: 'Clay', parent: 2, items: 1200, version: 'v' },
] as Parameters<typeof treeOf>[0]

it('counts what a pool holds with all below it', () => {
  const chapter = nth(treeOf(POOLS), 0)
  expect([chapter.own, chapter.total]).toEqual([0, 1213])
  expect(chapter.children.map((node) => [node.name, node.total])).toEqual([
    ['Texture', 1209],
    ['Structure', 4],
  ])
})

it('keeps a pool whose parent is not there', () => {
  expect(
    treeOf([{ id: 9, name: 'Loose', parent: 77, items: 1, version: 'v' }] as typeof POOLS).map((node) => node.name),
  ).toEqual(['Loose'])
})

async function tree(current?: number) {
  const { view } = await shown(PoolTree, { tree: treeOf(POOLS), current })
  const button = (words: string) => sure(view.findAll('button').find((entry) => entry.text() === words))
  return { view, button }
}

it('picks a pool, or all', async () => {
  const { view } = await tree(2)
  expect(view.find('.all').text()).toBe('All items1,213')
  await sure(view.findAll('.node').find((node) => node.text().startsWith('Structure'))).trigger('click')
  await view.find('.all').trigger('click')
  expect(view.emitted('pick')).toEqual([[3], [undefined]])
})

it('makes a pool below the open one, and renames that', async () => {
  const { view, button } = await tree(2)
  await button('New pool').trigger('click')
  await view.find('input[aria-label="Name of the pool"]').setValue('  Loam ')
  await view.find('form').trigger('submit')
  await button('Rename').trigger('click')
  expect((view.find('input[aria-label="Name of the pool"]').element as HTMLInputElement).value).toBe('Texture')
  await view.find('input[aria-label="Name of the pool"]').setValue('Grain')
  await view.find('form').trigger('submit')
  expect(view.emitted('create')).toEqual([['Loam', 2]])
  expect(view.emitted('rename')).toEqual([[2, 'Grain']])
})

it('makes no pool without a name, and asks before one is deleted', async () => {
  const { view, button } = await tree(2)
  await button('New pool').trigger('click')
  await view.find('input[aria-label="Name of the pool"]').setValue('   ')
  await view.find('form').trigger('submit')
  expect(view.emitted('create')).toBeUndefined()
  await button('Delete').trigger('click')
  await flushPromises()
  const confirm = sure(
    [...document.querySelectorAll<HTMLButtonElement>('.el-dialog button')].find((entry) =>
      entry.textContent.includes('1209 items'),
    ),
  )
  expect(view.emitted('remove')).toBeUndefined()
  confirm.click()
  expect(view.emitted('remove')).toEqual([[2]])
})
