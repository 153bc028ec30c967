import { expect, it } from 'vitest'
import { computed, ref } from 'vue'

import { shown, sure } from '@/testing'

import TakeFrame from './TakeFrame.vue'

const taking = {
  pattern: ref('{chapter}'),
  purpose: ref(''),
  pool: ref<number>(),
  duplicatesToo: ref(false),
  said: computed(() => ({ pattern: '{chapter}', purpose: '', pool: null, duplicates_too: false })),
}

async function frame(props: { fresh: boolean; possible: boolean }) {
  const fixed = {
    modelValue: true,
    course: 1,
    title: 'Take',
    group: 'x',
    taking,
    words: 'Take 4',
    busy: false,
  }
  const { view } = await shown(TakeFrame, { ...fixed, ...props }, { answers: { 'GET /api/courses/1/pools': [] } })
  const button = [...document.querySelectorAll('button')].find((entry) => entry.textContent?.includes('Take 4'))
  return { view, press: () => sure(button).click() }
}

it('does what was said when its preview is there, once', async () => {
  const { view, press } = await frame({ fresh: false, possible: true })
  press()
  await view.setProps({ words: 'Take 4' })
  expect(view.emitted('take')).toBeUndefined()
  await view.setProps({ fresh: true })
  expect(view.emitted('take')).toHaveLength(1)
})

it('takes nothing where the preview says that there is nothing', async () => {
  const { view, press } = await frame({ fresh: false, possible: true })
  press()
  await view.setProps({ fresh: true, possible: false })
  expect(view.emitted('take')).toBeUndefined()
})
