import { expect, it } from 'vitest'

import { nth, shown } from '@/testing'

import ConfirmButton from './ConfirmButton.vue'

it('does what cannot be undone only when it was said and asked a second time', async () => {
  const { view } = await shown(ConfirmButton, {
    label: 'Delete',
    ask: 'Delete it for good?',
    verb: 'Delete permanently',
  })
  await view.find('button').trigger('click')
  expect(view.text()).toContain('Delete it for good?')
  expect(view.emitted('confirm')).toBeUndefined()
  await nth(view.findAll('button'), 1).trigger('click')
  expect(view.find('[role="alertdialog"]').exists()).toBe(false)
  await view.find('button').trigger('click')
  await nth(view.findAll('button'), 0).trigger('click')
  expect(view.emitted('confirm')).toHaveLength(1)
})
