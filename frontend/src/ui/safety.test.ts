import { flushPromises, mount } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { Problem, problemOf } from '@/api/client'
import { shown, sure } from '@/testing'

import BottomBar from './BottomBar.vue'
import ConflictNotice from './ConflictNotice.vue'
import PasswordDialog from './PasswordDialog.vue'
import { useConflict } from './useConflict'

const REFUSED = { fact: 'This was changed.', way_out: 'Look.', version: 'v2', current: { title: 'Theirs' } }

it('keeps a refused save until it is decided, and saves over what is there now', () => {
  const { clash, caught, settle } = useConflict()
  const again = vi.fn()
  expect(caught(new Problem(409, 'Another thing.'), again)).toBe(false)
  expect(caught(problemOf(412, REFUSED), again)).toBe(true)
  expect(clash.value?.current).toEqual({ title: 'Theirs' })
  clash.value?.again()
  expect(again).toHaveBeenCalledWith('v2', { title: 'Theirs' })
  expect(clash.value).toBeUndefined()
  caught(problemOf(412, REFUSED), again)
  settle()
  expect(clash.value).toBeUndefined()
})

it('shows where the two differ, and nothing else', async () => {
  const again = vi.fn()
  const clash = { current: { title: 'Week 1', settings: { time_limit: 30, attempts: 2, opens: null } }, again }
  const view = mount(ConflictNotice, {
    props: { clash, mine: { settings: { time_limit: 25, attempts: 2, opens: '' } } },
  })
  expect(view.findAll('tbody tr').map((row) => row.text())).toEqual(['time limit3025'])
  const [mine, theirs] = view.findAll('button')
  await sure(theirs).trigger('click')
  expect(view.emitted('keep')).toHaveLength(1)
  await sure(mine).trigger('click')
  expect(again).toHaveBeenCalled()
})

it('says that nothing is being worked off, and nothing of it where something is', async () => {
  const answers = (running: boolean) => ({
    'GET /api/courses/1/jobs': [],
    'GET /api/operations/last': { operation: null, course: null, course_name: '', still: '' },
    'GET /api/worker': { running },
  })
  const { view } = await shown(BottomBar, {}, { answers: answers(false) })
  expect(view.text()).toContain('Nothing is being worked off.')
  const other = await shown(BottomBar, {}, { answers: answers(true) })
  expect(other.view.text()).not.toContain('worked off')
})

it('changes a password only where both new ones are the same and long enough', async () => {
  const answers = { 'PUT /api/session/password': { user: 'mara', demo_accounts: [] } }
  const { view, asked } = await shown(PasswordDialog, { modelValue: true }, { answers })
  const field = (id: string) => sure(document.querySelector<HTMLInputElement>(`#${id}`))
  const type = async (id: string, text: string) => {
    field(id).value = text
    field(id).dispatchEvent(new Event('input'))
    await flushPromises()
  }
  const submit = async () => {
    sure(document.querySelector('#password')).dispatchEvent(new Event('submit', { cancelable: true }))
    await flushPromises()
  }
  await type('old', 'soil-and-water')
  await type('fresh', 'horizons and humus')
  await type('again', 'horizons and humbug')
  await submit()
  expect(document.body.textContent).toContain('differ')
  expect(asked.filter((call) => call.method === 'PUT')).toHaveLength(0)
  await type('again', 'horizons and humus')
  await submit()
  expect(asked.at(-1)?.body).toEqual({ old: 'soil-and-water', new: 'horizons and humus' })
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([false])
})
