import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { poolsQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { items } from '@/ui/words'

export interface PoolNode {
  id: number
  name: string
  own: number
  total: number
  parent: number | null
  children: PoolNode[]
}

/** The pools as a tree, with how many items each holds itself and with its sub-pools; those counted, where counts are given. */
export function treeOf(pools: readonly Schemas['PoolOut'][], counts?: Record<string, number>): PoolNode[] {
  const nodes = new Map<number, PoolNode>()
  for (const pool of pools) {
    const own = counts ? (counts[String(pool.id)] ?? 0) : pool.items
    nodes.set(pool.id, { id: pool.id, name: pool.name, own, total: own, parent: pool.parent, children: [] })
  }
  const roots: PoolNode[] = []
  for (const node of nodes.values())
    (node.parent === null ? roots : (nodes.get(node.parent)?.children ?? roots)).push(node)
  const sum = (node: PoolNode): number =>
    (node.total = node.own + node.children.reduce((all, child) => all + sum(child), 0))
  roots.forEach(sum)
  return roots
}

/** The pools in the order of the tree, each with its path in words. */
export function flat(nodes: readonly PoolNode[], above = ''): { id: number; path: string }[] {
  return nodes.flatMap((node) => {
    const path = above ? `${above} / ${node.name}` : node.name
    return [{ id: node.id, path }, ...flat(node.children, path)]
  })
}

/** Everything that can be done to pools and to selections of items. */
export function usePools(course: Ref<number>) {
  const queries = useQueryClient()
  const pools = useQuery(computed(() => poolsQuery(course.value)))
  const tree = computed(() => treeOf(pools.data.value ?? []))
  const refresh = () => queries.invalidateQueries({ queryKey: ['course'] })
  const inCourse = () => ({ path: { course_id: course.value } })
  const after = <Body = void>(words: (count: number) => string, elsewhere?: (count: number, body: Body) => string) => ({
    // What is still being done shows in the bottom bar of the course that it is done in.
    onSuccess: async ({ count, job }: { count: number; job?: string | null }, body: Body) => {
      const told = job ? elsewhere?.(count, body) : words(count)
      if (told) say(told)
      await refresh()
    },
    onError: sayProblem,
  })
  const onPool = { onSuccess: refresh, onError: sayProblem }

  const create = useMutation({
    mutationFn: (body: Schemas['PoolIn']) =>
      ok(client.POST('/api/courses/{course_id}/pools', { params: inCourse(), body })),
    ...onPool,
  })
  const change = useMutation({
    mutationFn: ({ id, body }: { id: number; body: Schemas['PoolChange'] }) =>
      ok(
        client.PATCH('/api/pools/{pool_id}', {
          params: { path: { pool_id: id } },
          body: { ...body, version: pools.data.value?.find((pool) => pool.id === id)?.version ?? null },
        }),
      ),
    onSuccess: refresh,
    onError: (error) => {
      sayProblem(error)
      void refresh() // the tree shows what it is called by now, and the name can be given again
    },
  })
  const place = useMutation({
    mutationFn: ({ id, parent, before }: { id: number; parent: number | null; before: number | null }) =>
      ok(client.PUT('/api/pools/{pool_id}/place', { params: { path: { pool_id: id } }, body: { parent, before } })),
    onSuccess: refresh,
    onError: (error) => {
      sayProblem(error)
      void refresh() // the tree is drawn as it is
    },
  })
  const merge = useMutation({
    mutationFn: (body: Schemas['PoolsIn']) =>
      ok(client.POST('/api/courses/{course_id}/pools/merge', { params: inCourse(), body })),
    ...after((count) => `Merged ${count} ${count === 1 ? 'pool' : 'pools'}.`),
  })
  const tidy = useMutation({
    mutationFn: () => ok(client.POST('/api/courses/{course_id}/pools/tidy', { params: inCourse() })),
    ...after((count) => (count ? `Removed ${count} empty ${count === 1 ? 'pool' : 'pools'}.` : 'No pool is empty.')),
  })
  const remove = useMutation({
    mutationFn: (id: number) => ok(client.DELETE('/api/pools/{pool_id}', { params: { path: { pool_id: id } } })),
    ...onPool,
  })
  const move = useMutation({
    mutationFn: (body: Schemas['MoveIn']) =>
      ok(client.POST('/api/courses/{course_id}/items/move', { params: inCourse(), body })),
    ...after((count) => `Moved ${items(count)}.`),
  })
  const copy = useMutation({
    mutationFn: (body: Schemas['CopyIn']) =>
      ok(client.POST('/api/courses/{course_id}/items/copy', { params: inCourse(), body })),
    ...after<Schemas['CopyIn']>(
      (count) => `Copied ${items(count)}.`,
      (count, body) => (body.course === course.value ? '' : `Copying ${items(count)}; the other course shows how far.`),
    ),
  })
  const changeMany = useMutation({
    mutationFn: (body: Schemas['ChangeManyIn']) =>
      ok(client.POST('/api/courses/{course_id}/items/change', { params: inCourse(), body })),
    ...after((count) => `Changed ${items(count)}.`),
  })
  const removeItems = useMutation({
    mutationFn: (body: Schemas['Selection']) =>
      ok(client.POST('/api/courses/{course_id}/items/delete', { params: inCourse(), body })),
    ...after((count) => `Deleted ${items(count)}.`),
  })
  return { pools, tree, create, change, place, merge, tidy, remove, move, copy, changeMany, removeItems, refresh }
}

export type Pools = ReturnType<typeof usePools>
