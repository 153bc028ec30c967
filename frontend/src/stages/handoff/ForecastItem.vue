<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { provideAsking } from '@/ui/asking'
import ErrorState from '@/ui/ErrorState.vue'
import ItemView from '@/ui/ItemView.vue'
import LevelMark from '@/ui/LevelMark.vue'
import VerdictMark from '@/ui/ledger/VerdictMark.vue'
import { say, sayProblem } from '@/ui/say'

import ShortenFields from './ShortenFields.vue'
import StandingMark from './StandingMark.vue'
import type { Standing } from './useForecast'

type AnyItem = Schemas['ReadingItemOut']['item']
interface Note {
  facet: string
  verdict: string
  message: string
  by: string
  seen?: string
  excess?: { what: string; has: number; most: number; words: string }
}
interface Told {
  title: string
  standing: Standing
  for_students: Standing
  facets: Record<string, string>
  notes: Note[]
}
interface Offer {
  name: string
  label: string
  by_hand: boolean
  /** Whether it leaves the item marked as it was; `words` say how it is marked then, `responses` what would earn something else. */
  repair: boolean
  words: string
  responses: { response: string; now: number | null; then: number | null }[]
}

/** One item of a forecast: why it is as it is, what would save something, and how it is written for this receiver. */
const props = defineProps<{
  course: number
  item: number
  asked: Schemas['MatrixIn']
  receiver: string
  repairing: boolean
  mayEdit: boolean
}>()
const emit = defineEmits<{ close: []; repair: [string, 'receiver' | 'pool']; written: [] }>()
provideAsking()
const queries = useQueryClient()
const { data, error } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'forecast', props.asked, 'item', props.item],
    queryFn: () =>
      ok(
        client.POST('/api/courses/{course_id}/forecast/item', {
          params: { path: { course_id: props.course } },
          body: { ...props.asked, item: props.item },
        }),
      ),
  })),
)
const told = computed(() => data.value?.told as unknown as Told | undefined)
const offers = computed(() => (data.value?.offers ?? []) as unknown as Offer[])
const wording = computed(() => data.value?.wording as AnyItem | null | undefined)
const leftAside = computed(() => data.value?.left_aside as AnyItem | null | undefined)
const pool = computed(() => data.value?.item as AnyItem | undefined)
const limits = computed(() => data.value?.limits as { stem: number | null; choice: number | null } | undefined)
const writing = ref(false)
watch(
  () => offers.value.some((offer) => offer.by_hand),
  (byHand) => (writing.value = byHand && props.mayEdit),
  { immediate: true },
)
function share(value: number | null): string {
  return value === null ? 'no mark' : `${Math.round(value * 100)} %`
}
const path = computed(() => ({
  params: { path: { course_id: props.course, receiver: props.asked.receiver, item_id: props.item } },
}))
async function again(words: string): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['course', props.course, 'forecast'] })
  emit('written')
  say(words)
}
const write = useMutation({
  mutationFn: (item: AnyItem) =>
    ok(
      client.PUT('/api/courses/{course_id}/wordings/{receiver}/{item_id}', {
        ...path.value,
        body: { item, version: data.value?.version },
      }),
    ),
  onSuccess: () => again(`Written for ${props.receiver}; the pool's item stays as it is.`),
  onError: sayProblem,
})
const forget = useMutation({
  mutationFn: () => ok(client.DELETE('/api/courses/{course_id}/wordings/{receiver}/{item_id}', path.value)),
  onSuccess: () => again('It goes there as it is in its pool again.'),
  onError: sayProblem,
})
</script>

<template>
  <aside class="pane" aria-label="What will happen to this item">
    <ErrorState v-if="error" :error="error" />
    <p v-else-if="!told || !pool" class="faint">Loading…</p>
    <template v-else>
      <div class="row spread">
        <h2>
          <StandingMark :standing="told.for_students" />
          {{ told.standing === 'refused' ? 'not taken' : `${told.for_students} for students` }}
        </h2>
        <button type="button" class="link-button" @click="emit('close')">Close</button>
      </div>
      <p v-if="!told.notes.length" class="soft">It arrives as it is, in every facet.</p>
      <ul class="notes">
        <li v-for="note in told.notes" :key="note.facet + note.message">
          <VerdictMark :verdict="told.standing === 'refused' ? 'lost' : note.verdict" />
          <div>
            <strong>{{ note.facet }}</strong> <span class="faint">by the {{ note.by }}</span>
            <p>{{ note.message }}</p>
            <p v-if="note.seen" class="seen">There: {{ note.seen }}</p>
          </div>
        </li>
      </ul>
      <section
        v-for="offer in offers.filter((entry) => !entry.by_hand)"
        :key="offer.name"
        class="offer"
        :class="{ otherwise: !offer.repair }"
      >
        <strong>{{ offer.label }}</strong>
        <template v-if="!offer.repair">
          <p class="warning"><LevelMark level="warning" /> It will be marked differently.</p>
          <p v-if="!offer.responses.length" class="soft">{{ offer.words }}</p>
          <table v-else>
            <thead>
              <tr>
                <th scope="col">Response</th>
                <th scope="col">earns now</th>
                <th scope="col">then</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="entry in offer.responses" :key="entry.response">
                <td>{{ entry.response }}</td>
                <td>{{ share(entry.now) }}</td>
                <td>{{ share(entry.then) }}</td>
              </tr>
            </tbody>
          </table>
        </template>
        <p v-else-if="offer.words" class="soft">{{ offer.words }}</p>
        <div v-if="mayEdit" class="row">
          <button
            type="button"
            class="link-button"
            :disabled="repairing"
            @click="emit('repair', offer.name, 'receiver')"
          >
            {{ offer.repair ? 'For this receiver' : 'For this receiver all the same' }}
          </button>
          <button type="button" class="link-button" :disabled="repairing" @click="emit('repair', offer.name, 'pool')">
            {{ offer.repair ? 'In the pool' : 'In the pool all the same' }}
          </button>
        </div>
      </section>
      <section v-if="leftAside" class="worded">
        <p>It was written for {{ receiver }} before the item was changed, and is left aside:</p>
        <ItemView :item="leftAside" />
        <button
          v-if="mayEdit"
          type="button"
          class="link-button"
          :disabled="write.isPending.value"
          @click="write.mutate(leftAside)"
        >
          It still holds
        </button>
      </section>
      <section v-if="wording" class="worded">
        <div class="row spread">
          <h3>Written for {{ receiver }}</h3>
          <button
            v-if="mayEdit"
            type="button"
            class="link-button"
            :disabled="forget.isPending.value"
            @click="forget.mutate()"
          >
            As in the pool again
          </button>
        </div>
        <p class="soft">{{ data!.done.join(', ') }}</p>
        <ItemView v-if="!writing" :item="wording" />
      </section>
      <ShortenFields
        v-if="writing"
        :key="JSON.stringify(wording ?? pool)"
        :item="wording ?? pool"
        :stem-most="limits?.stem ?? null"
        :choice-most="limits?.choice ?? null"
        :busy="write.isPending.value"
        @save="(item: AnyItem) => write.mutate(item)"
      />
      <section class="original">
        <div class="row spread">
          <h3>In the pool</h3>
          <button v-if="mayEdit && !writing" type="button" class="link-button" @click="writing = true">
            Write it otherwise for them
          </button>
        </div>
        <ItemView :item="pool" />
      </section>
    </template>
  </aside>
</template>

<style scoped>
.pane {
  overflow: auto;
  padding: 12px 18px 24px;
  border-left: 1px solid var(--rog-rule);
}

h2 {
  font-size: 16px;
}

h3 {
  font-size: 13.5px;
}

.notes {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}

.notes li {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr);
  padding: 4px 0;
  border-top: 1px solid var(--rog-rule);
}

.notes p {
  margin: 0;
  overflow-wrap: anywhere;
}

.seen {
  font-family: var(--rog-serif);
  color: var(--rog-ink-soft);
}

.offer {
  border-left: 3px solid var(--rog-signal);
  padding: 2px 0 2px 10px;
  margin: 8px 0;
}

.offer table {
  width: 100%;
  margin: 4px 0;
  font-size: 13px;
}

.offer th {
  text-align: left;
  font-weight: 400;
  color: var(--rog-ink-soft);
}

.offer td {
  border-top: 1px solid var(--rog-rule);
  overflow-wrap: anywhere;
}

.offer.otherwise {
  border-left-color: var(--rog-rule-strong);
}

.offer .warning {
  color: var(--rog-caution);
}

.offer p {
  margin: 0;
}

.offer .row {
  gap: 16px;
}

.worded,
.original {
  margin-top: 14px;
  padding-top: 8px;
  border-top: 1px solid var(--rog-rule-strong);
}

.worded {
  background: var(--rog-joined);
  padding: 8px 10px;
}

.worded :deep(.faint) {
  color: var(--rog-ink-soft);
}

.worded p {
  margin: 0;
}
</style>
