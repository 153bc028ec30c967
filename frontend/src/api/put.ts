import type { DataTag, QueryClient, QueryKey } from '@tanstack/vue-query'

/** Puts what is known by now where it is shown. What was asked before is asked anew: its answer may be older than this. */
export function put<Data>(
  queries: QueryClient,
  queryKey: DataTag<QueryKey, Data, Error>,
  update: (now: Data | undefined) => Data | undefined,
): void {
  queries.setQueryData<Data>(queryKey, update)
  if (queries.isFetching({ queryKey, exact: true })) void queries.invalidateQueries({ queryKey, exact: true })
}
