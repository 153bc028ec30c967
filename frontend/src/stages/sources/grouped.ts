import type { Schemas } from '@/api/client'

type Source = Schemas['SourceOut']

export interface Group {
  key: string
  batch: Schemas['BatchOut'] | undefined
  sources: Source[]
  aside: boolean
}

/** Sources in their order, those of one batch together; what is set aside stands in a group of its own at the end. */
export function grouped(sources: readonly Source[]): Group[] {
  const groups: Group[] = []
  for (const source of sources.filter((entry) => !entry.aside)) {
    const key = source.batch ? `b${source.batch.id}` : `s${source.id}`
    const held = groups.find((group) => group.key === key)
    if (held) held.sources.push(source)
    else groups.push({ key, batch: source.batch ?? undefined, sources: [source], aside: false })
  }
  const aside = sources.filter((source) => source.aside)
  return aside.length ? [...groups, { key: 'aside', batch: undefined, sources: aside, aside: true }] : groups
}

/** What several sources add up to. */
export function sums(sources: readonly Source[]): { items: number; waiting: number; sound: number } {
  const add = (field: 'items' | 'waiting' | 'sound') => sources.reduce((sum, source) => sum + (source[field] ?? 0), 0)
  return { items: add('items'), waiting: add('waiting'), sound: add('sound') }
}

/** What is said of all items of some sources and can be repaired, together by what it is, with the sources that have it. */
export function saidOfAll(sources: readonly Source[]): { finding: Schemas['ReadFinding']; sources: number[] }[] {
  const found = new Map<string, { finding: Schemas['ReadFinding']; sources: number[] }>()
  for (const source of sources)
    for (const finding of source.findings ?? []) {
      const held = found.get(finding.code)
      if (held) held.sources.push(source.id)
      else found.set(finding.code, { finding, sources: [source.id] })
    }
  return [...found.values()]
}
