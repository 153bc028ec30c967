import { expect, it } from 'vitest'

import { nth } from '@/testing'

import { filesOfDrop } from './dropped'

const file = (name: string) => new File(['x'], name)
const fileEntry = (path: string) => ({
  isFile: true,
  isDirectory: false,
  fullPath: path,
  file: (done: (file: File) => void) => done(file(nth(path.split('/'), -1))),
})
/** A folder whose reader gives its entries one by one, as browsers give them in batches. */
const folderEntry = (path: string, children: unknown[]) => ({
  isFile: false,
  isDirectory: true,
  fullPath: path,
  createReader: () => {
    const left = [...children]
    return { readEntries: (done: (entries: unknown[]) => void) => done(left.splice(0, 1)) }
  },
})
const drop = (entries: unknown[], files: File[] = []) =>
  ({ items: entries.map((entry) => ({ webkitGetAsEntry: () => entry })), files }) as unknown as DataTransfer

it('takes loose files as one group without paths', async () => {
  const groups = await filesOfDrop(drop([fileEntry('/a.txt')], [file('a.txt'), file('b.txt')]))
  expect(groups.map((group) => [group.files.map((f) => f.name), group.paths])).toEqual([[['a.txt', 'b.txt'], []]])
})

it('takes a folder as one source, with the paths of all that is in it', async () => {
  const inner = folderEntry('/tests/media', [fileEntry('/tests/media/p.png'), fileEntry('/tests/media/q.png')])
  const groups = await filesOfDrop(drop([folderEntry('/tests', [fileEntry('/tests/a.xml'), inner])]))
  expect(groups).toHaveLength(1)
  expect(nth(groups, 0).paths).toEqual(['tests/a.xml', 'tests/media/p.png', 'tests/media/q.png'])
  expect(nth(groups, 0).files.map((f) => f.name)).toEqual(['a.xml', 'p.png', 'q.png'])
})

it('parts a folder from the files beside it, and leaves empty ones out', async () => {
  const groups = await filesOfDrop(
    drop([folderEntry('/a', [fileEntry('/a/x.txt')]), folderEntry('/b', []), fileEntry('/c.txt')]),
  )
  expect(groups.map((group) => group.paths)).toEqual([['a/x.txt'], []])
  expect(await filesOfDrop(drop([]))).toEqual([])
})
