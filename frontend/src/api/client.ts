import createClient, { type Middleware } from 'openapi-fetch'

import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** An error as the server words it: the fact, the place, and the way out. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly fact: string,
    readonly place = '',
    readonly wayOut = '',
    /** Where a save was refused over a change that it has not seen: the version that is there, and what it holds. */
    readonly version = '',
    readonly current: Record<string, unknown> = {},
    /** How much of an operation can be undone, where something stands in the way of the whole. */
    readonly rest = 0,
  ) {
    super([fact, place, wayOut].filter(Boolean).join(' '))
  }
}

export function cookie(name: string, jar = document.cookie): string {
  const found = jar.split('; ').find((entry) => entry.startsWith(`${name}=`))
  return found ? decodeURIComponent(found.slice(name.length + 1)) : ''
}

const csrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', cookie('csrftoken'))
    return request
  },
}

export const client = createClient<paths>({
  baseUrl: `${window.location.origin}/`,
  fetch: (request) => globalThis.fetch(request),
})
client.use(csrf)

export function problemOf(status: number, body: unknown): Problem {
  const parts = (body ?? {}) as Partial<Schemas['Conflict']>
  const fact = parts.fact ?? (status ? `The server answered ${status}.` : 'The server does not answer.')
  return new Problem(
    status,
    fact,
    parts.place,
    parts.way_out ?? (status ? '' : 'Check that it is running, and try again.'),
    parts.version,
    parts.current,
    parts.rest,
  )
}

/** The data of an answer. Throws a Problem for anything else. */
export async function ok<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: unknown; response: Response }
  try {
    answer = await call
  } catch {
    throw problemOf(0, undefined)
  }
  if (!answer.response.ok || answer.data === undefined) throw problemOf(answer.response.status, answer.error)
  return answer.data
}

/** Sends files with other fields as a form. */
async function sent<T>(path: string, name: string, files: File[], fields: [string, string][] = []): Promise<T> {
  const form = new FormData()
  files.forEach((file) => form.append(name, file))
  fields.forEach(([key, value]) => form.append(key, value))
  const headers = { 'X-CSRFToken': cookie('csrftoken') }
  const response = await fetch(path, { method: 'POST', body: form, headers }).catch(() => undefined)
  if (!response) throw problemOf(0, undefined)
  const body: unknown = await response.json().catch(() => undefined)
  if (!response.ok) throw problemOf(response.status, body)
  return body as T
}

/** Sends files; with `paths`, they are one folder; what has the same `drop` is one batch. */
export function upload(course: number, files: File[], paths: string[], drop: string): Promise<Schemas['JobOut'][]> {
  const fields: [string, string][] = paths.map((path) => ['paths', path])
  return sent(`/api/courses/${course}/sources`, 'files', files, [...fields, ['drop', drop]])
}

/** Keeps pictures for items, each with the ref by which content names it. */
export function uploadMedia(course: number, files: File[]): Promise<Schemas['MediaOut'][]> {
  return sent(`/api/courses/${course}/media`, 'files', files)
}

/** The rows of a sheet as they stand. */
export async function rowsOf(course: number, file: File): Promise<string[][]> {
  return (await sent<Schemas['RowsOut']>(`/api/courses/${course}/rows`, 'file', [file])).rows
}

/** Makes a new course of a saved one. */
export function openSaved(file: File): Promise<Schemas['JobOut']> {
  return sent('/api/saved-courses', 'file', [file])
}

/** What a server says line by line, each a JSON text, as it comes. Throws a Problem where it says no, or breaks off. */
export async function* streamed<T>(path: string, body: unknown, signal?: AbortSignal): AsyncGenerator<T> {
  const headers = { 'X-CSRFToken': cookie('csrftoken'), 'Content-Type': 'application/json' }
  const response = await fetch(path, { method: 'POST', body: JSON.stringify(body), headers, signal }).catch(
    () => undefined,
  )
  if (!response) throw problemOf(0, undefined)
  if (!response.ok || !response.body) throw problemOf(response.status, await response.json().catch(() => undefined))
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let waiting = ''
  for (;;) {
    const { done, value } = await reader.read()
    const lines = (waiting + (value ?? '')).split('\n')
    waiting = done ? '' : (lines.pop() ?? '')
    for (const line of lines) if (line.trim()) yield JSON.parse(line) as T
    if (done) return
  }
}
