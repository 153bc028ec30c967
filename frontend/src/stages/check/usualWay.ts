import type { Schemas } from '@/api/client'

type Way = Schemas['WayOut']

/** Of the ways of a finding, the one that its key takes: the usual one of its kind, else the first. */
export function usualWay(finding: Schemas['ReadFinding'] | undefined, ways: readonly Way[]): Way | undefined {
  return ways.find((way) => way.name === finding?.repair) ?? ways[0]
}
