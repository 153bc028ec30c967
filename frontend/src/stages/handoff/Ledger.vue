<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { client, ok } from '@/api/client'
import { handoffQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import LedgerTable from '@/ui/ledger/LedgerTable.vue'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items, size } from '@/ui/words'

import StandingMarks from './StandingMarks.vue'

const course = useCourse()
const route = useRoute()
const queries = useQueryClient()
const { mayEdit } = useRole(course)
const id = computed(() => Number(route.params.handoff))
const { data: handoff, error } = useQuery(computed(() => handoffQuery(course.value, id.value)))
const sound = computed(() => handoff.value?.sound)
const soundForStudents = computed(
  () => handoff.value && !handoff.value.for_students.changed && !handoff.value.for_students.lost && quizzesSound.value,
)
const quizzesSound = computed(() => {
  const sums = handoff.value?.ledger.quiz_totals
  return !sums?.changed && !sums?.lost
})
const side = ref<'file' | 'there'>('file')
const arrived = computed(() => handoff.value?.arrived)
const repaired = computed(() => Object.keys(handoff.value?.repairs ?? {}).length)
/** The items that changed since, or are new: what would be handed on alone. */
const since = computed(() => [...(handoff.value?.since?.changed ?? []), ...(handoff.value?.since?.new ?? [])])
const send = useMutation({
  mutationFn: () => ok(client.POST('/api/handoffs/{handoff_id}/send', { params: { path: { handoff_id: id.value } } })),
  onSuccess: (now) => {
    queries.setQueryData(handoffQuery(course.value, id.value).queryKey, now)
    void queries.invalidateQueries({ queryKey: ['course', course.value, 'handoffs'] })
    side.value = 'there'
    say(now.as_forecast ? 'Found there as forecast.' : 'Found there otherwise than forecast.')
  },
  onError: sayProblem,
})
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!handoff" class="faint loading">Loading the ledger…</p>
  <div v-else class="ledger">
    <header>
      <div>
        <h1>
          {{ handoff.title }}
          <template v-if="handoff.receiver">for {{ handoff.receiver_title }}</template>
          <template v-else>as {{ handoff.label }}</template>
          <template v-if="handoff.section">, {{ handoff.section }}</template>
        </h1>
        <p class="soft">
          <template v-if="sound">Read back and compared: nothing was changed, nothing was lost.</template>
          <template v-else-if="soundForStudents"
            >Read back and compared: what students see and how it is marked is the same. Only you will miss
            something.</template
          >
          <template v-else
            >Read back and compared. What follows differs over there; look before you hand it on.</template
          >
          <br /><span class="faint"
            >{{ items(handoff.items) }}, {{ size(handoff.size)
            }}<template v-if="handoff.made_as">, {{ handoff.made_as }}</template
            ><template v-if="handoff.receiver">, as {{ handoff.label }}</template
            ><template v-if="repaired">, {{ items(repaired) }} changed for it</template></span
          >
        </p>
      </div>
      <div class="row">
        <ElButton v-if="handoff.can_be_sent && mayEdit" :loading="send.isPending.value" @click="send.mutate()">
          {{ arrived ? 'Send it to the stand-in again' : 'Send it to the stand-in' }}
        </ElButton>
        <a :href="`/api/handoffs/${handoff.id}/page`" download>Ledger to print</a>
        <a :href="`/api/handoffs/${handoff.id}/ledger`" download>Save the ledger</a>
        <a class="download" :href="`/api/handoffs/${handoff.id}/file`" download :title="handoff.file_name">{{
          handoff.receiver ? 'Download the folder' : `Download the ${handoff.label} file`
        }}</a>
      </div>
    </header>
    <p v-for="proof in handoff.ledger.proofs ?? []" :key="proof.source" class="proof">
      <strong>{{ proof.words }}</strong>
      <span class="soft"
        >{{ proof.source }}, before its items were taken; {{ items(proof.items) }} of this hand-off are of them (seed
        {{ proof.seed }})</span
      >
    </p>
    <div v-if="handoff.since?.words || handoff.steps?.length" class="after">
      <p v-if="handoff.since?.words" class="since">
        Since you handed it on, {{ handoff.since.words }}.
        <RouterLink
          v-if="since.length && mayEdit"
          :to="{ name: 'hand-off', params: { course }, query: { what: `items-${since.join(',')}` } }"
          >Hand on only {{ since.length === 1 ? 'this one' : `these ${since.length}` }}</RouterLink
        >
      </p>
      <details v-if="handoff.steps?.length">
        <summary>What to do there</summary>
        <ol>
          <li v-for="step in handoff.steps" :key="step">{{ step }}</li>
        </ol>
      </details>
    </div>
    <p v-if="handoff.forecast" class="there">
      At {{ handoff.receiver_title }}, as forecast:
      <StandingMarks :sums="handoff.forecast.for_students" />
      <span v-if="!arrived" class="soft">Below is the file itself, read back.</span>
    </p>
    <div v-if="arrived" class="sides" role="tablist" aria-label="Which ledger">
      <button type="button" role="tab" :aria-selected="side === 'file'" @click="side = 'file'">
        The file, read back
      </button>
      <button type="button" role="tab" :aria-selected="side === 'there'" @click="side = 'there'">
        As it stands at the stand-in
        <span :class="{ otherwise: arrived.otherwise.length }">{{
          arrived.otherwise.length ? `${arrived.otherwise.length} otherwise than forecast` : 'as forecast'
        }}</span>
      </button>
    </div>
    <section v-if="arrived && side === 'there'" class="arrived" aria-label="At the stand-in">
      <table v-if="arrived.otherwise.length">
        <tr v-for="entry in arrived.otherwise" :key="`${entry.title}${entry.facet}`">
          <td>{{ entry.title }}</td>
          <td>{{ entry.facet }}</td>
          <td>forecast {{ entry.forecast }}, became {{ entry.became }}</td>
        </tr>
      </table>
      <details>
        <summary>What it says: {{ arrived.report[0] }}</summary>
        <p v-for="line in arrived.report.slice(1)" :key="line">{{ line }}</p>
      </details>
    </section>
    <LedgerTable
      v-if="arrived && side === 'there'"
      key="there"
      :ledger="arrived.ledger"
      :sides="['meant', 'found there']"
    />
    <LedgerTable v-else key="file" :ledger="handoff.ledger" :sides="['meant', 'read back']" />
  </div>
</template>

<style scoped>
.loading {
  padding: 24px;
}

.ledger {
  display: flex;
  flex-direction: column;
  height: 100%;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: flex-start;
  gap: 24px;
  padding: 16px 20px 10px;
}

header p {
  margin: 4px 0 0;
}

header .row {
  gap: 18px;
  flex: none;
}

.download {
  background: var(--rog-ink);
  color: var(--rog-paper);
  padding: 6px 14px;
  border-radius: 2px;
  text-decoration: none;
  font-weight: 500;
}

.after,
.arrived {
  padding: 0 20px 6px;
}

.after p {
  margin: 0 0 4px;
}

.there {
  display: flex;
  gap: 14px;
  align-items: baseline;
  margin: 0;
  padding: 0 20px 10px;
}

.since {
  color: var(--rog-caution);
  font-weight: 500;
}

summary {
  cursor: pointer;
  color: var(--rog-ink-soft);
}

.arrived details p {
  margin: 0;
  font: 13px var(--rog-serif);
}

.arrived details[open] {
  max-height: 160px;
  overflow: auto;
}

.sides {
  display: flex;
  gap: 4px;
  padding: 0 16px 6px;
}

.sides button {
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  padding: 4px 10px;
  cursor: pointer;
}

.sides button[aria-selected='true'] {
  background: var(--rog-joined);
}

.sides span {
  color: var(--rog-key);
  font-weight: 500;
}

.sides .otherwise {
  color: var(--rog-signal);
}

.proof {
  margin: 0;
  padding: 0 20px 6px;
}

.proof strong {
  font-weight: 500;
  color: var(--rog-key);
}
</style>
