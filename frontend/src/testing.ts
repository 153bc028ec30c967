import { VueQueryPlugin, QueryClient } from '@tanstack/vue-query'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { vi } from 'vitest'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import type { Schemas } from './api/client'
import { router as real } from './router'

const open: VueWrapper[] = []

/** Takes away all that a test has shown and pretended. */
export function cleared(): void {
  open.splice(0).forEach((view) => view.unmount())
  document.body.innerHTML = ''
  vi.useRealTimers()
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
}

const COURSE_PATH = /^GET \/api\/courses\/\d+$/

/** The course of an address, which is one's own. */
export const COURSE = {
  id: 1,
  name: 'Soil Science 110',
  owner: 'mara',
  role: 'owner',
  shared: 0,
  waiting: { sources: 0, check: 0, flagged: 0, pools: 0, quizzes: 0, handoffs: 0 },
  outcomes: [],
  advice_off: [],
  time_zone: 'UTC',
  sections: [],
}

/**
 * A component as it stands in the application, at an address of course 1, with the answers that the server would give: each a value, or
 * what makes one, or a whole response, of what was sent.
 */
export async function shown(
  component: Component,
  props: Record<string, unknown> = {},
  { at = '/c/1/sources', answers = {} }: { at?: string; answers?: Record<string, unknown> } = {},
): Promise<{ view: VueWrapper; asked: { method: string; path: string; body: unknown }[] }> {
  const asked: { method: string; path: string; body: unknown }[] = []
  vi.stubGlobal(
    'fetch',
    vi.fn(async (request: Request | string, init?: RequestInit) => {
      const { method, url } = typeof request === 'string' ? { method: init?.method ?? 'GET', url: request } : request
      const path = new URL(url, 'http://localhost').pathname
      const text = typeof request === 'string' ? '' : await request.text()
      const body = text ? (JSON.parse(text) as unknown) : undefined
      asked.push({ method, path, body })
      const said = answers[`${method} ${path}`] ?? (COURSE_PATH.test(`${method} ${path}`) ? COURSE : undefined)
      const answer: unknown = typeof said === 'function' ? await (said as (body: unknown) => unknown)(body) : said
      if (answer instanceof Response) return answer
      const found = answer !== undefined
      return new Response(JSON.stringify(found ? answer : { fact: 'It is not there.', way_out: 'Look elsewhere.' }), {
        status: found ? 200 : 404,
        headers: { 'Content-Type': 'application/json' },
      })
    }),
  )
  const routes = real.getRoutes().map((route) => ({ ...route, components: { default: { template: '<div />' } } }))
  const router = createRouter({ history: createMemoryHistory(), routes: routes as never })
  await router.push(at)
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { retry: false } } })
  const view = mount(component, {
    props,
    attachTo: document.body,
    global: { plugins: [router, [VueQueryPlugin, { queryClient }]] },
  })
  open.push(view)
  await flushPromises()
  return { view, asked }
}

/** The value, which must be there. */
export function sure<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new Error('It is not there.')
  return value
}

/** The element of a list at a position, -1 for the last. Fails the test where there is none. */
export function nth<T>(list: ArrayLike<T> | undefined, position: number): T {
  return sure(list && Array.from(list).at(position))
}

type Item = Schemas['ReadingItemOut']['item']

/** An item of the model with what all types have in common. */
export function item(fields: Partial<Item> & { type: string }): Item {
  const common = { id: 'i', title: '', stem: 'Which?', points: 1, feedback: {}, metadata: {}, stimulus: null }
  return { ...common, ...fields } as unknown as Item
}

export function finding(fields: Partial<Schemas['ReadFinding']> = {}): Schemas['ReadFinding'] {
  return {
    level: 'error',
    code: 'no-key',
    where: 'line 3',
    message: 'No choice is marked correct.',
    fix: 'Mark the right one.',
    repair: null,
    repair_label: null,
    ways: [],
    dismissed: false,
    ...fields,
  }
}

export function source(fields: Partial<Schemas['SourceOut']> = {}): Schemas['SourceOut'] {
  return {
    id: 3,
    name: 'week-2.docx',
    kind: 'upload',
    size: 12_400,
    expected: null,
    created: '2026-09-01T10:00:00Z',
    problem: null,
    reading: 5,
    format: 'docx',
    title: 'Week 2',
    items: 6,
    waiting: 6,
    types: { multiple_choice: 5, essay: 1 },
    worst: {},
    unclaimed: 0,
    pools: [],
    keys_from: [],
    document: true,
    likely_test: null,
    batch: null,
    aside: false,
    sound: 6,
    findings: [],
    ...fields,
  }
}

export function reading(fields: Partial<Schemas['ReadingOut']> = {}): Schemas['ReadingOut'] {
  return {
    id: 5,
    newer: null,
    source: 3,
    name: 'week-2.docx',
    kind: 'upload',
    format: 'docx',
    title: 'Week 2',
    expected: null,
    lines: 3,
    is_text: false,
    key_habit: '',
    roles: {},
    habits: [],
    others: [],
    columns: [],
    claimed: 12,
    unclaimed: [],
    findings: [],
    cells: [],
    pools: [],
    document: true,
    key_found: '',
    chunk_lines: 400,
    quizzes: [],
    advice: [],
    has_parts: false,
    sample: null,
    passages: [],
    ...fields,
  }
}

/** A cell of the strip. */
export function cell(position: number, worst = '', fields: Partial<Schemas['StripCell']> = {}): Schemas['StripCell'] {
  return {
    position,
    type: 'essay',
    text: `Question ${position}`,
    worst,
    needs_look: ['error', 'warning'].includes(worst),
    taken: false,
    dropped: false,
    codes: worst ? ['two-keys'] : [],
    first: null,
    last: null,
    edited: false,
    points: 1,
    has: [],
    advice: [],
    pool: 0,
    ...fields,
  }
}

/** An item as it was read. */
export function readItem(position: number, fields: Partial<Schemas['ReadingItemOut']> = {}): Schemas['ReadingItemOut'] {
  return {
    position,
    item: item({ type: 'essay', stem: `Question ${position}` }),
    cell: cell(position),
    advice: [],
    path: ['Texture'],
    where: `line ${position * 10}`,
    first: null,
    last: null,
    findings: [],
    stimulus: null,
    taken: null,
    dropped: false,
    edited: false,
    version: 'v1',
    ...fields,
  }
}
