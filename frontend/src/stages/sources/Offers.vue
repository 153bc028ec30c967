<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { offersQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { items, when } from '@/ui/words'

/** Copies that colleagues sent, to be looked at before anything is taken; and what became of those that one sent oneself. */
const props = defineProps<{ course: number; mayEdit: boolean }>()
type Offer = Schemas['OfferOut']
const queries = useQueryClient()
const { data: offers } = useQuery(offersQuery())
const received = computed(() =>
  (offers.value ?? []).filter(
    (offer) =>
      !offer.mine && (offer.state === 'waiting' || offer.state === 'declined' || offer.course === props.course),
  ),
)
const sent = computed(() => (offers.value ?? []).filter((offer) => offer.mine).slice(0, 5))
async function refresh(): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['offers'] })
  await queries.invalidateQueries({ queryKey: ['course', props.course] })
}
const look = useMutation({
  mutationFn: (offer: Offer) =>
    ok(
      client.POST('/api/offers/{offer_id}/look', {
        params: { path: { offer_id: offer.id } },
        body: { course: props.course },
      }),
    ),
  onSuccess: async (_job, offer) => {
    say(`Reading ${offer.title}; it waits in Check, and nothing of yours is touched.`)
    await refresh()
  },
  onError: sayProblem,
})
const reopen = useMutation({
  mutationFn: (offer: Offer) =>
    ok(client.POST('/api/offers/{offer_id}/reopen', { params: { path: { offer_id: offer.id } } })),
  onSuccess: refresh,
  onError: sayProblem,
})
const decline = useMutation({
  mutationFn: (offer: Offer) =>
    ok(client.POST('/api/offers/{offer_id}/decline', { params: { path: { offer_id: offer.id } } })),
  onSuccess: async (_now, offer) => {
    say(offer.mine ? `You took back ${offer.title}.` : `You declined ${offer.title}.`, 'fact', {
      label: 'Undo',
      run: () => reopen.mutate(offer),
    })
    await refresh()
  },
  onError: sayProblem,
})
const became = (offer: Offer) => {
  if (offer.state === 'taken') return offer.taken ? `took ${offer.taken} of ${items(offer.items)}` : 'took it'
  return (
    {
      waiting: 'has not looked yet',
      'looked at': 'looks at it',
      declined: 'declined',
      withdrawn: 'will not see it: you took it back',
    }[offer.state] ?? offer.state
  )
}
</script>

<template>
  <section v-if="received.length || sent.length" class="offers" aria-label="Offers">
    <ul>
      <li v-for="offer in received" :key="offer.id" class="offer">
        <div>
          <strong>{{ offer.sender }}</strong> offers <strong>{{ offer.title }}</strong>: {{ items(offer.items) }} in
          {{ offer.pools }} {{ offer.pools === 1 ? 'pool' : 'pools' }} from {{ offer.course_name }},
          {{ when(offer.created) }}
          <p v-if="offer.note" class="note">“{{ offer.note }}”</p>
        </div>
        <span class="row">
          <RouterLink :to="{ name: 'offer', params: { course, offer: offer.id } }">Its ledger</RouterLink>
          <template v-if="offer.state === 'waiting'">
            <button type="button" class="link-button" @click="decline.mutate(offer)">Decline</button>
            <ElButton v-if="mayEdit" size="small" :loading="look.isPending.value" @click="look.mutate(offer)"
              >Look at it in Check</ElButton
            >
          </template>
          <template v-else-if="offer.state === 'declined'">
            <span class="soft">you declined it</span>
            <button type="button" class="link-button" @click="reopen.mutate(offer)">Undo</button>
          </template>
          <span v-else class="soft">{{ offer.state === 'taken' ? `taken: ${offer.taken}` : 'among the sources' }}</span>
        </span>
      </li>
      <li v-for="offer in sent" :key="offer.id" class="sent soft">
        <span
          >You offered {{ offer.title }} ({{ items(offer.items) }}) to {{ offer.recipient }}, who
          <span class="became">{{ became(offer) }}</span></span
        >
        <button v-if="offer.state === 'waiting'" type="button" class="link-button" @click="decline.mutate(offer)">
          Take it back
        </button>
        <button v-if="offer.state === 'withdrawn'" type="button" class="link-button" @click="reopen.mutate(offer)">
          Offer it again
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 14px 0;
  padding: 0;
}

li {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 24px;
  padding: 7px 12px;
  border-bottom: 1px solid var(--rog-rule);
}

.offer {
  background: var(--rog-joined);
}

.row {
  gap: 16px;
  flex: none;
}

.note {
  margin: 2px 0 0;
  font-family: var(--rog-serif);
}

.sent {
  font-size: 13px;
}

.became {
  color: var(--rog-ink);
}
</style>
