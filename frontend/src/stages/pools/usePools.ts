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

/** The pools as a tree, with how many items each holds itself and with its sub-pools. */
export function treeOf(pools: readonly Schemas['PoolOut'][]): PoolNode[] {
  const nodes = new Map<number, PoolNode>()
  for (const pool of pools)
    nodes.set(pool.id, {
      id: pool.id,
      name: pool.name,
      own: pool.items,
      total: pool.items,
      parent: pool.parent,
      children: [],
    })
  const roots: PoolNode[] = []
  for (const node of nodes.values())
    (node.parent === null ? roots : (nodes.get(node.parent)?.children ?? roots)).push(node)
  const sum = (node: PoolNode): number =>
    (node.total = node.own + node.children.reduce((all, child) => all + sum(child), 0))
  roots.forEach(sum)
  return roots
}

/** Everything that can be done to pools and to selections of items. */
export function usePools(course: Ref<number>) {
  const queries = useQueryClient()
  const pools = useQuery(computed(() => poolsQuery(course.value)))
  const tree = computed(() => treeOf(pools.data.value ?? []))
  const refresh = () => queries.invalidateQueries({ queryKey: ['course', course.value] })
  const inCourse = () => ({ path: { course_id: course.value } })
  const after = (words: (count: number) => string) => ({
    onSuccess: async ({ count }: { count: number }) => {
      say(words(count))
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
  const remove = useMutation({
    mutationFn: (id: number) => ok(client.DELETE('/api/pools/{pool_id}', { params: { path: { pool_id: id } } })),
    ...onPool,
  })
  const move = useMutation({
    mutationFn: (body: Schemas['MoveIn']) =>
      ok(client.POST('/api/courses/{course_id}/items/move', { params: inCourse(), body })),
    ...after((count) => `Moved ${items(count)}.`),
  })
  const setPoints = useMutation({
    mutationFn: (body: Schemas['PointsIn']) =>
      ok(client.POST('/api/courses/{course_id}/items/points', { params: inCourse(), body })),
    ...after((count) => `Set the points of ${items(count)}.`),
  })
  const removeItems = useMutation({
    mutationFn: (body: Schemas['Selection']) =>
      ok(client.POST('/api/courses/{course_id}/items/delete', { params: inCourse(), body })),
    ...after((count) => `Deleted ${items(count)}.`),
  })
  return { pools, tree, create, change, remove, move, setPoints, removeItems, refresh }
}
