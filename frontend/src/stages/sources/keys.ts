import type { Schemas } from '@/api/client'

type Source = Schemas['SourceOut']

const words = (name: string) =>
  new Set(
    name
      .replace(/\.[^.]+$/, '')
      .toLowerCase()
      .match(/\p{L}+|\d+/gu) ?? [],
  )

/** The test that a list of keys is most likely for: the one whose name has most words in common with it. */
export function likeliestTest(name: string, tests: Source[]): Source | undefined {
  const own = words(name)
  const shared = (test: Source) => [...words(test.name)].filter((word) => own.has(word)).length
  return [...tests].sort((a, b) => shared(b) - shared(a) || (b.worst?.error ?? 0) - (a.worst?.error ?? 0))[0]
}
