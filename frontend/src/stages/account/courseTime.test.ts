import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { COURSE, shown, sure } from '@/testing'

import CourseTime from './CourseTime.vue'

const detail = { ...COURSE, time_zone: 'UTC', sections: [{ id: 5, name: 'Monday', students: 9 }] }
const answers = {
  'GET /api/time-zones': ['America/Chicago', 'UTC'],
  'PUT /api/courses/1/time': { time_zone: 'UTC', sections: [] },
}

it('names sections, drops them, and sets the clocks of a course', async () => {
  const { view, asked } = await shown(CourseTime, { course: 1, detail, mayEdit: true }, { answers })
  const keep = () => sure(view.findAll('button').find((button) => button.text() === 'Keep them'))
  expect(keep().attributes('disabled')).toBeDefined()
  await view.find('[aria-label="Name of section 1"]').setValue('Monday lab')
  await sure(view.findAll('button').find((button) => button.text() === 'Add a section')).trigger('click')
  await view.find('[aria-label="Name of section 2"]').setValue('Thursday')
  await view.find('[aria-label="Students of section 2"]').setValue('22')
  view.findComponent({ name: 'ElSelect' }).vm.$emit('update:modelValue', 'America/Chicago')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(sure(asked.find(({ method }) => method === 'PUT')).body).toEqual({
    time_zone: 'America/Chicago',
    sections: [
      { id: 5, name: 'Monday lab', students: 9 },
      { id: null, name: 'Thursday', students: 22 },
    ],
  })
  await sure(view.findAll('button').find((button) => button.text().startsWith('Drop section Monday'))).trigger('click')
  expect(view.findAll('[aria-label^="Name of section"]')).toHaveLength(1)
})

it('shows a reader the sections, and nothing that changes them', async () => {
  const { view } = await shown(CourseTime, { course: 1, detail, mayEdit: false }, { answers })
  expect(view.findAll('button')).toHaveLength(0)
  expect(view.find('[aria-label="Name of section 1"]').attributes('disabled')).toBeDefined()
})
