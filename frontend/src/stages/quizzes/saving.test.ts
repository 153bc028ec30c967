import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { shown } from '@/testing'

import Quiz from './Quiz.vue'
import { QUIZ } from './testing'

type Sent = { title?: string; settings?: Record<string, unknown>; version: string | null }

/** The settings of a quiz before a server that keeps versions, and answers a save when it is let. */
async function slow() {
  const kept = { ...QUIZ, settings: { ...QUIZ.settings, time_limit: 20, late: null } as Record<string, unknown> }
  let version = 1
  const held: (() => void)[] = []
  const quiz = () => ({ ...kept, version: `v${version}` })
  const answers = {
    'GET /api/quizzes/7': quiz,
    'GET /api/courses/1/patterns': [],
    'PATCH /api/quizzes/7': async (sent: Sent) => {
      await new Promise<void>((go) => held.push(go))
      if (sent.version !== `v${version}`)
        return Response.json(
          { fact: 'This was changed.', way_out: 'Look.', version: `v${version}`, current: { settings: kept.settings } },
          { status: 412 },
        )
      version += 1
      Object.assign(kept, { title: sent.title ?? kept.title, settings: { ...kept.settings, ...sent.settings } })
      return quiz()
    },
  }
  const { view, asked } = await shown(Quiz, {}, { at: '/c/1/quizzes/7/settings', answers })
  async function answered(): Promise<void> {
    held.shift()?.()
    await flushPromises()
  }
  /** What another tab saves meanwhile. */
  function elsewhere(settings: Record<string, unknown>): void {
    version += 1
    kept.settings = { ...kept.settings, ...settings }
  }
  const put = async (field: string, value: string) => {
    await view.find(field).setValue(value)
    await flushPromises()
  }
  const saves = () => asked.filter(({ method }) => method === 'PATCH')
  const value = (field: string) => view.find<HTMLInputElement>(field).element.value
  return { view, kept, saves, answered, elsewhere, put, value }
}

it('saves one setting after the other, each over what the one before it left, and shows them at once', async () => {
  const { kept, saves, answered, put, value } = await slow()
  await put('#time', '45')
  await put('#late', 'refused')
  await put('#time', '50')
  expect(saves()).toHaveLength(1)
  expect([value('#time'), value('#late')]).toEqual(['50', 'refused'])
  for (let turn = 0; turn < 3; turn++) {
    await answered()
    expect([value('#time'), value('#late')]).toEqual(['50', 'refused'])
  }
  expect(saves().map(({ body }) => (body as Sent).version)).toEqual(['v1', 'v2', 'v3'])
  expect(kept.settings).toMatchObject({ time_limit: 50, late: 'refused', attempts: 2 })
})

it('asks once about all that something else saved meanwhile has refused, and keeps what that changed besides', async () => {
  const { view, kept, answered, elsewhere, put, value } = await slow()
  await put('#time', '45')
  await put('#late', 'refused')
  elsewhere({ time_limit: 30, access_code: 'marl' })
  await answered()
  await answered()
  expect(kept.settings).toMatchObject({ time_limit: 30, late: null })
  const notice = view.find('[aria-label="Changed in the meantime"]')
  expect(notice.text()).toMatch(/time limit\s*30\s*45/)
  await notice.find('button').trigger('click')
  await flushPromises()
  await answered()
  expect(kept.settings).toMatchObject({ time_limit: 45, late: 'refused', access_code: 'marl' })
  expect([value('#time'), value('#code')]).toEqual(['45', 'marl'])
  expect(view.find('[aria-label="Changed in the meantime"]').exists()).toBe(false)
})

it('does not ask where another tab changed something else, and keeps it', async () => {
  const { view, kept, answered, elsewhere, put, value } = await slow()
  await put('#time', '45')
  elsewhere({ access_code: 'marl' })
  await answered()
  expect(view.find('[aria-label="Changed in the meantime"]').exists()).toBe(false)
  expect(value('#time')).toBe('45')
  await answered()
  expect(kept.settings).toMatchObject({ time_limit: 45, access_code: 'marl' })
  expect([value('#time'), value('#code')]).toEqual(['45', 'marl'])
})

it('saves what waits when one has gone on to something else', async () => {
  const { view, kept, saves, answered, put } = await slow()
  await put('#time', '45')
  await put('#late', 'refused')
  view.unmount()
  await answered()
  await answered()
  expect(saves().every(({ path }) => path === '/api/quizzes/7')).toBe(true)
  expect(kept.settings).toMatchObject({ time_limit: 45, late: 'refused' })
})

it('leaves what is being typed alone while something else is saved', async () => {
  const { view, kept, answered, put, value } = await slow()
  await put('#late', 'refused')
  const field = view.find<HTMLInputElement>('#time')
  field.element.focus()
  field.element.value = '4'
  await field.trigger('input')
  await answered()
  expect([value('#time'), value('#late')]).toEqual(['4', 'refused'])
  await put('#time', '45')
  await answered()
  expect(kept.settings).toMatchObject({ time_limit: 45, late: 'refused' })
  // What comes to nothing gives way to what holds.
  field.element.blur()
  await put('#time', 'soon')
  await answered()
  expect([value('#time'), kept.settings['time_limit']]).toEqual(['', null])
})
