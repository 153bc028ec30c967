import { afterEach, expect, it, vi } from 'vitest'

import { cookie, ok, Problem, problemOf, upload } from './client'

afterEach(() => vi.unstubAllGlobals())
const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status })

it('words an error as the server does, and one without words by its status', () => {
  expect(problemOf(422, { fact: 'It is empty.', place: 'a.txt', way_out: 'Drop another.' }).message).toBe(
    'It is empty. a.txt Drop another.',
  )
  expect(problemOf(500, undefined).message).toBe('The server answered 500.')
  expect(problemOf(0, undefined).message).toBe('The server does not answer. Check that it is running, and try again.')
})

it('gives the data of an answer, and throws for all else', async () => {
  const response = new Response(null, { status: 200 })
  expect(await ok(Promise.resolve({ data: 5, response }))).toBe(5)
  await expect(ok(Promise.reject(new TypeError('network')))).rejects.toMatchObject({ status: 0 })
  const refused = { error: { fact: 'No.' }, response: new Response(null, { status: 404 }) }
  await expect(ok(Promise.resolve(refused))).rejects.toMatchObject({ status: 404, fact: 'No.' })
  await expect(ok(Promise.resolve(refused))).rejects.toBeInstanceOf(Problem)
})

it('finds a cookie by its whole name', () => {
  expect(cookie('csrftoken', 'xcsrftoken=1; csrftoken=a%20b; other=2')).toBe('a b')
  expect(cookie('csrftoken', 'xcsrftoken=1')).toBe('')
})

it('sends files with their paths, and says what the server answers', async () => {
  const fetched = vi
    .fn()
    .mockResolvedValueOnce(answer(200, [{ id: 'j' }]))
    .mockResolvedValueOnce(answer(413, { fact: 'Too large.' }))
    .mockRejectedValueOnce(new TypeError())
  vi.stubGlobal('fetch', fetched)
  const files = [new File(['a'], 'a.txt'), new File(['b'], 'b.txt')]
  expect(await upload(4, files, ['t/a.txt', 't/b.txt'], 'd')).toEqual([{ id: 'j' }])
  const [url, init] = fetched.mock.calls[0] as [string, { body: FormData }]
  expect(url).toBe('/api/courses/4/sources')
  expect([init.body.getAll('files').length, init.body.getAll('paths')]).toEqual([2, ['t/a.txt', 't/b.txt']])
  await expect(upload(4, files, [], 'd')).rejects.toMatchObject({ fact: 'Too large.' })
  await expect(upload(4, files, [], 'd')).rejects.toMatchObject({ status: 0 })
})
