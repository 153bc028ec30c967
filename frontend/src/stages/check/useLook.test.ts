import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'
import { computed, defineComponent, h, ref } from 'vue'

import { cell, shown, source } from '@/testing'

import type { Cell, Place } from './stepping'
import { useLook } from './useLook'

// The list of all is older than reading 5 as it is open: it knows nothing of its second item.
const ANSWERS = {
  'GET /api/courses/1/look': [{ reading: 7, source: 'b.txt', positions: [3] }],
  'GET /api/courses/1/sources': [source({ id: 2, reading: 7 }), source({ id: 1, reading: 5 })],
}

async function looking(cells: Cell[] | undefined) {
  const held = ref<readonly Cell[] | undefined>(cells)
  const at = ref<Place>({ reading: 5, position: 1 })
  const went: Place[] = []
  let look: ReturnType<typeof useLook> | undefined
  const home = defineComponent({
    setup() {
      look = useLook(
        ref(1),
        at,
        held,
        computed(() => false),
        (place) => went.push(place),
      )
      return () => h('div')
    },
  })
  await shown(home, {}, { answers: ANSWERS })
  return { look: look as unknown as ReturnType<typeof useLook>, held, at, went }
}

it('stays in the open reading while that has something, and goes on to the next source', async () => {
  const { look, at, went } = await looking([cell(1), cell(2, 'error')])
  await flushPromises()
  look.step(1)
  at.value = { reading: 5, position: 2 }
  look.step(1)
  expect(went).toEqual([
    { reading: 5, position: 2 },
    { reading: 7, position: 3 },
  ])
  expect([look.among.value, look.elsewhere.value]).toEqual([{ number: 1, of: 1 }, 1])
})

it('takes a step that was asked for early when it is known where to go', async () => {
  const { look, held, went } = await looking(undefined)
  look.step(1)
  await flushPromises()
  expect(went).toEqual([])
  held.value = [cell(1), cell(2, 'error')]
  expect(went).toEqual([{ reading: 5, position: 2 }])
})
