import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** What of Check stands in the address: the item, whether it is a proof, what the proof is narrowed to. */
export function useCheckAddress() {
  const route = useRoute()
  const router = useRouter()
  const set = (change: Record<string, string | undefined>) =>
    void router.replace({ query: { ...route.query, ...change } })
  const text = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
  const position = computed(() => Number(route.query.item ?? 1))
  const asProof = computed({
    get: () => route.query.view === 'proof',
    set: (now) => set({ view: now ? 'proof' : undefined }),
  })
  const filters = computed({
    get: () => text('show').split(',').filter(Boolean),
    set: (now) => set({ show: now.join(',') || undefined }),
  })
  const type = computed({ get: () => text('type'), set: (now) => set({ type: now || undefined }) })
  const pick = (to: number) => set({ item: String(to) })
  return { position, asProof, filters, type, pick }
}
