<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import ErrorState from '@/ui/ErrorState.vue'
import { useHandingOn } from '@/ui/handingOn'
import { SIDES, type Side } from '@/ui/ledger/sides'
import TwoSums from '@/ui/ledger/TwoSums.vue'
import VerdictMark from '@/ui/ledger/VerdictMark.vue'
import { worstFirst } from '@/ui/ledger/verdicts'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items, WORDS } from '@/ui/words'

import ForecastItem from './ForecastItem.vue'
import Matrix from './Matrix.vue'
import Savings from './Savings.vue'
import StandingMark from './StandingMark.vue'
import { numberOf, scopeOf } from './scopes'
import { STANDINGS, type Line, type Standing } from './useForecast'

const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { mayEdit } = useRole(course)
const handing = useHandingOn()
const what = computed(() => scopeOf(String(route.query.what ?? 'all'), handing.value?.selection))
const asked = computed(() => ({
  what: what.value,
  receiver: String(route.query.receiver ?? ''),
  format: String(route.query.format ?? ''),
}))
const { data, error, isFetching } = useQuery(
  computed(() => ({
    queryKey: ['course', course.value, 'forecast', asked.value],
    queryFn: () =>
      ok(
        client.POST('/api/courses/{course_id}/forecast/matrix', {
          params: { path: { course_id: course.value } },
          body: asked.value,
        }),
      ),
    shallow: true,
    structuralSharing: false,
    placeholderData: (before: Schemas['MatrixOut'] | undefined) => before,
  })),
)
const line = computed(() => data.value?.line as unknown as Line | undefined)
const only = computed(() => String(route.query.only ?? '') as Standing | '')
/** Whether `only` is of what students see, or of what only the instructor sees. */
const side = computed<Side>(() => (route.query.side === 'you' ? 'you' : 'students'))
const alone = computed(() => (only.value ? { side: side.value, name: only.value } : undefined))
const showAlone = (wanted?: { side: Side; name: string }) =>
  go({ only: wanted?.name, side: wanted?.side === 'you' ? 'you' : undefined })
const sums = computed(() => ({
  students: line.value?.for_students ?? {},
  // What is not taken is told once.
  you: { ...line.value?.for_you, refused: 0 },
}))
const facet = computed(() => String(route.query.facet ?? ''))
const type = computed(() => String(route.query.type ?? ''))
const types = computed(() => [...new Set((data.value?.rows ?? []).map((row) => row.type))])
const open = computed(() => Number(route.query.item ?? 0))
function go(query: Record<string, string | undefined>): void {
  void router.replace({ query: { ...route.query, ...query } })
}
const place = computed(() => (data.value?.facets ?? []).indexOf(facet.value))
const ordered = computed(() => worstFirst(data.value?.rows ?? [], STANDINGS))
const rows = computed(() =>
  ordered.value.filter(
    (row) =>
      (!only.value || row[SIDES[side.value].of] === only.value) &&
      (!type.value || row.type === type.value) &&
      (place.value < 0 || row.standing === 'refused' || !'=+'.includes(row.signs[place.value] ?? '=')),
  ),
)
const matrix = ref<{ show: (place: number) => void }>()
/** How many of the items that are taken are not the same in a facet. */
function touched(name: string): number {
  const sums = line.value?.facets[name] ?? {}
  return (sums.recast ?? 0) + (sums.changed ?? 0) + (sums.lost ?? 0)
}
function step(by: number): void {
  const at = rows.value.findIndex((row) => numberOf(row) === open.value)
  const next = rows.value[Math.min(rows.value.length - 1, Math.max(0, at + by))]
  if (!next) return
  go({ item: String(numberOf(next)) })
  matrix.value?.show(rows.value.indexOf(next))
}
async function anew(): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['course', course.value] })
}
const repair = useMutation({
  mutationFn: (said: { repair: string; items: number[]; place: 'receiver' | 'pool' }) =>
    ok(
      client.POST('/api/courses/{course_id}/forecast/repair', {
        params: { path: { course_id: course.value } },
        body: { ...asked.value, ...said },
      }),
    ),
  onSuccess: async (done, said) => {
    await anew()
    if (!done.job)
      say(`${items(done.count)} changed ${said.place === 'pool' ? 'in the pool' : `for ${line.value?.title ?? ''}`}.`)
  },
  onError: sayProblem,
})
/** What is to be written by hand: the first of them that is left. */
function writeFirst(offer: Schemas['SavingOut']): void {
  go({ item: String(offer.items[0] ?? '').replace(/^i/, ''), only: undefined, side: undefined, facet: undefined })
}
watch(rows, (now) => {
  if (open.value && now.length && !now.some((row) => numberOf(row) === open.value) && only.value)
    go({ item: undefined })
})
</script>

<template>
  <ErrorState v-if="error" :error="error">
    <RouterLink :to="{ name: 'hand-off', params: { course } }">Back to handing on</RouterLink>
  </ErrorState>
  <p v-else-if="!data || !line" class="faint loading">Working out what will happen there…</p>
  <div v-else class="forecast" @keydown.j="step(1)" @keydown.k="step(-1)">
    <header>
      <div>
        <p class="back">
          <RouterLink :to="{ name: 'hand-off', params: { course }, query: { what: route.query.what } }"
            >Hand on</RouterLink
          >
        </p>
        <h1>{{ line.title }}</h1>
        <p class="soft">
          As
          <select
            :value="line.format"
            aria-label="Format"
            @change="go({ format: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="entry in line.formats" :key="entry.name" :value="entry.name">{{ entry.label }}</option>
          </select>
          <span class="because">{{ line.because }}</span>
          <span v-if="line.files > 1"> It takes {{ line.files }} files.</span>
          <span v-if="line.worded"> {{ items(line.worded) }} written for it.</span>
          <span v-if="isFetching" class="faint" role="status"> asking…</span>
        </p>
      </div>
      <p class="legend soft" aria-label="What the marks mean">
        <span class="faint">·</span> same <VerdictMark verdict="recast" /> the same in another form
        <VerdictMark verdict="changed" /> other there <VerdictMark verdict="lost" /> gone there
        <StandingMark standing="refused" /> not taken
      </p>
    </header>
    <section v-for="quiz in line.quizzes" :key="quiz.title" class="quiz" :aria-label="`Quiz ${quiz.title}`">
      <strong><VerdictMark :verdict="quiz.worst" /> Quiz {{ quiz.title }}</strong>
      <ul>
        <li v-for="note in quiz.notes" :key="note.facet + note.message">{{ note.message }}</li>
      </ul>
    </section>
    <Savings
      v-if="mayEdit"
      :offers="data.offers"
      :busy="repair.isPending.value"
      @write="writeFirst"
      @repair="(name, place) => repair.mutate({ repair: name, items: [], place })"
    />
    <TwoSums :total="data.rows.length" :order="STANDINGS" :sums="sums" :only="alone" @show="showAlone">
      <template #default="{ of, count }"><StandingMark :standing="of as Standing" :count="count" /></template>
      <template #more>
        <select
          v-if="types.length > 1"
          :value="type"
          aria-label="Type"
          @change="go({ type: ($event.target as HTMLSelectElement).value || undefined })"
        >
          <option value="">any type</option>
          <option v-for="name in types" :key="name" :value="name">{{ WORDS.types[name] }}</option>
        </select>
        <button v-if="facet" type="button" class="here" @click="go({ facet: undefined })">
          {{ facet }} only ({{ rows.length }}) <span aria-hidden="true">×</span>
        </button>
      </template>
    </TwoSums>
    <div class="panes" :class="{ reading: open }">
      <Matrix
        ref="matrix"
        :rows="rows"
        :facets="data.facets"
        :facet="facet"
        :open="open"
        :touched="touched"
        @facet="(name) => go({ facet: facet === name ? undefined : name })"
        @open="(item) => go({ item: String(item) })"
      />
      <ForecastItem
        v-if="open"
        :key="`${open}${line.key}`"
        :course="course"
        :item="open"
        :asked="asked"
        :receiver="line.title"
        :repairing="repair.isPending.value"
        :may-edit="mayEdit"
        @close="go({ item: undefined })"
        @repair="(name, place) => repair.mutate({ repair: name, items: [open], place })"
        @written="anew"
      />
    </div>
  </div>
</template>

<style scoped src="@/ui/ledger/facets.css" />

<style scoped>
.panes {
  flex: 1;

  --reader: 400px;
}

.loading {
  padding: 24px;
}

.forecast {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}

header {
  display: flex;
  justify-content: space-between;
  gap: 24px;
  padding: 12px 20px 6px;
  align-items: flex-end;
}

header p {
  margin: 2px 0;
}

.back {
  font-size: 13px;
}

.because {
  margin-left: 6px;
}

.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  justify-content: flex-end;
  max-width: 560px;
  font-size: 12.5px;
}

.quiz {
  padding: 4px 20px;
  max-height: 110px;
  overflow: auto;
}

.quiz ul {
  margin: 2px 0;
  padding-left: 26px;
  columns: 2;
  font-size: 13px;
}
</style>
