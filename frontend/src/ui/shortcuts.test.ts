import { mount } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'

import { activeShortcuts, handleKey, useShortcuts } from './shortcuts'

const press = (key: string, target: EventTarget = document.body, now?: number) => {
  const event = new KeyboardEvent('keydown', { key })
  Object.defineProperty(event, 'target', { value: target })
  return handleKey(event, now)
}

function withKeys(keys: Record<string, () => void>) {
  const shortcuts = Object.entries(keys).map(([name, run]) => ({ keys: name, label: name, group: 'x', run }))
  return mount(defineComponent({ setup: () => (useShortcuts(shortcuts), () => h('div')) }))
}

it('runs single keys and sequences, not while typing, and only as long as its component lives', () => {
  const run = vi.fn()
  const go = vi.fn()
  const home = withKeys({ n: run, 'g p': go })
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

it('runs them on a box that is ticked in a list, but for the keys that tick it, and not in a form', () => {
  const run = vi.fn()
  const home = withKeys({ t: run, Space: run })
  const box = document.createElement('input')
  box.type = 'checkbox'
  expect([press('t', box), press(' ', box)]).toEqual([true, false])
  document.createElement('form').append(box)
  expect(press('t', box)).toBe(false)
  expect(run).toHaveBeenCalledTimes(1)
  home.unmount()
})
