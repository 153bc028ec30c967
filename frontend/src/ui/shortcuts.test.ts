import { mount } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'

import { activeShortcuts, handleKey, useShortcuts } from './shortcuts'

const press = (key: string, target: EventTarget = document.body, now?: number) => {
  const event = new KeyboardEvent('keydown', { key })
  Object.defineProperty(event, 'target', { value: target })
  return handleKey(event, now)
}

it('runs single keys and sequences, not while typing, and only as long as its component lives', () => {
  const run = vi.fn()
  const go = vi.fn()
  const home = mount(
    defineComponent({
      setup() {
        useShortcuts([
          { keys: 'n', label: 'Next', group: 'x', run },
          { keys: 'g p', label: 'Go', group: 'x', run: go },
        ])
        return () => h('div')
      },
    }),
  )
  press('n')
  press('n', document.createElement('input'))
  expect(run).toHaveBeenCalledTimes(1)
  press('g', document.body, 0)
  press('p', document.body, 100)
  press('g', document.body, 0)
  press('p', document.body, 9000)
  expect(go).toHaveBeenCalledTimes(1)
  home.unmount()
  expect(activeShortcuts()).toEqual([])
})
