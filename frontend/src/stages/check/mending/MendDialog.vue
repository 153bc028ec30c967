<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import { client, ok, type Problem, type Schemas } from '@/api/client'
import RichText from '@/ui/RichText.vue'
import { say, sayProblem } from '@/ui/say'
import { items as itemsWords } from '@/ui/words'

import ListForm from './ListForm.vue'
import NumbersForm from './NumbersForm.vue'
import OutcomesForm from './OutcomesForm.vue'
import PaperForm from './PaperForm.vue'
import PicturesForm from './PicturesForm.vue'
import PointsForm from './PointsForm.vue'
import TwinsForm from './TwinsForm.vue'
import { KINDS, type Kind, type Wish } from './wishes'

/** Repairs in a person's words, for one item or all: each is shown before and after, then made at once and undone as one. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  course: number
  reading: Schemas['ReadingOut']
  position: number
}>()
const emit = defineEmits<{ done: []; open: [number] }>()
/** The points that questions have, the commonest first. */
const values = computed(() => {
  const counts = new Map<number | null, number>()
  for (const cell of props.reading.cells)
    if (cell.type !== 'information') counts.set(cell.points, (counts.get(cell.points) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1]).map(([value]) => value)
})
const kind = ref<Kind>('points')
const wish = ref<Wish>()
const slow = refDebounced(wish, 250)
const alone = ref(false)
const pool = ref(-1)
const inWords = computed(() => kind.value !== 'twins' && kind.value !== 'paper')
watch(kind, () => (wish.value = undefined))

const body = computed(() => ({
  wish: slow.value as Wish,
  positions: alone.value ? [props.position] : null,
  path: pool.value < 0 ? null : (props.reading.pools[pool.value] ?? null),
}))
const params = computed(() => ({ path: { reading_id: props.reading.id } }))
const {
  data: plan,
  error,
  isFetching,
} = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'reading', props.reading.id, 'plan', body.value],
    queryFn: () =>
      ok(client.POST('/api/readings/{reading_id}/mend/preview', { params: params.value, body: body.value })),
    enabled: open.value && inWords.value && Boolean(slow.value),
    placeholderData: keepPreviousData,
    retry: false,
  })),
)
/** What is shown is not of the wish as it stands now: nothing is changed by what was not seen. */
const stale = computed(() => isFetching.value || slow.value !== wish.value)
const shown = computed(() => (slow.value && !error.value ? plan.value : undefined))
const problem = computed(() => (slow.value ? (error.value as Problem | null) : null))

const mend = useMutation({
  mutationFn: () => ok(client.POST('/api/readings/{reading_id}/mend', { params: params.value, body: body.value })),
  onSuccess: ({ count, job }) => done(job, `Mended ${itemsWords(count)}.`),
  onError: sayProblem,
})
const leaveOut = useMutation({
  mutationFn: (positions: number[]) =>
    ok(client.POST('/api/readings/{reading_id}/drop', { params: params.value, body: { positions, dropped: true } })),
  onSuccess: ({ count, job }) => done(job, `Left out ${itemsWords(count)}.`),
  onError: sayProblem,
})
const apart = useMutation({
  mutationFn: ({ positions, name }: { positions: number[]; name: string }) =>
    ok(client.POST('/api/readings/{reading_id}/pool', { params: params.value, body: { positions, name } })),
  onSuccess: ({ count, job }) => done(job, `Put ${itemsWords(count)} into a pool of their own.`),
  onError: sayProblem,
})
const busy = computed(() => mend.isPending.value || leaveOut.isPending.value || apart.isPending.value)
/** What is still being done shows in the bottom bar. */
function done(job: string | null | undefined, words: string): void {
  if (!job) say(words)
  wish.value = undefined
  open.value = false
  emit('done')
}
</script>

<template>
  <ElDialog v-model="open" title="Mend many at once" width="860" append-to-body>
    <div class="mend">
      <nav aria-label="What to mend">
        <button
          v-for="entry in KINDS"
          :key="entry.name"
          type="button"
          class="plain-button"
          :aria-current="kind === entry.name"
          @click="kind = entry.name"
        >
          {{ entry.label }}
        </button>
      </nav>
      <div class="form">
        <PointsForm v-if="kind === 'points'" v-model="wish" :values="values" />
        <NumbersForm v-else-if="kind === 'numbers'" v-model="wish" />
        <OutcomesForm v-else-if="kind === 'outcomes'" v-model="wish" :course="course" :pools="reading.pools" />
        <ListForm
          v-else-if="kind === 'keys' || kind === 'feedback'"
          :key="kind"
          v-model="wish"
          :course="course"
          :kind="kind"
        />
        <PicturesForm v-else-if="kind === 'pictures'" v-model="wish" :course="course" />
        <TwinsForm
          v-else-if="kind === 'twins'"
          :course="course"
          :reading="reading"
          :busy="busy"
          @leave-out="leaveOut.mutate($event)"
          @apart="(positions, name) => apart.mutate({ positions, name })"
        />
        <PaperForm
          v-else
          :reading="reading"
          :busy="busy"
          @leave-out="leaveOut.mutate($event)"
          @open="((open = false), emit('open', $event))"
        />
        <template v-if="inWords">
          <p class="row scope">
            <label><input v-model="alone" type="checkbox" /> item {{ position }} alone</label>
            <label v-if="reading.pools.length > 1"
              >in
              <select v-model="pool" aria-label="In which chapter">
                <option :value="-1">all chapters</option>
                <option v-for="(path, index) in reading.pools" :key="index" :value="index">
                  {{ path.join(' / ') || '–' }}
                </option>
              </select></label
            >
          </p>
          <p v-if="problem" class="problem" role="status">{{ problem.fact }} {{ problem.wayOut }}</p>
          <template v-else-if="shown">
            <p v-for="lack in shown.unmet" :key="lack" class="unmet">{{ lack }}</p>
            <div class="changes" tabindex="0" role="group" aria-label="What would change">
              <table>
                <thead>
                  <tr>
                    <th scope="col">Item</th>
                    <th scope="col">Before</th>
                    <th scope="col">After</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="change in shown.changes.slice(0, 200)" :key="change.position">
                    <td>{{ change.position }}</td>
                    <td>{{ change.before }}</td>
                    <td>
                      {{ change.after }}
                      <RichText v-if="change.shown" class="in-place" :content="change.shown" />
                    </td>
                  </tr>
                </tbody>
              </table>
              <p v-if="shown.changes.length > 200" class="faint">and {{ shown.changes.length - 200 }} more</p>
            </div>
          </template>
        </template>
      </div>
    </div>
    <template #footer>
      <ElButton @click="open = false">Close</ElButton>
      <ElButton
        v-if="inWords"
        type="primary"
        :disabled="!shown?.changes.length || stale"
        :loading="mend.isPending.value"
        @click="mend.mutate()"
      >
        Change {{ itemsWords(shown?.changes.length ?? 0) }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.mend {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 26px;
  min-height: 300px;
}

nav {
  display: flex;
  flex-direction: column;
  gap: 2px;
  border-right: 1px solid var(--rog-rule);
}

nav button {
  padding: 5px 8px;
}

nav button[aria-current='true'] {
  background: var(--rog-joined);
  font-weight: 600;
}

.form :deep(input:not([type='radio'], [type='checkbox'])),
.form :deep(textarea) {
  padding: 3px 8px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.scope {
  gap: 20px;
  margin-top: 10px;
}

.problem,
.unmet {
  margin: 4px 0;
  color: var(--rog-signal);
}

.changes {
  max-height: 250px;
  overflow: auto;
  border-top: 1px solid var(--rog-rule-strong);
}

.changes table {
  width: 100%;
}

th,
.changes td {
  padding: 3px 14px 3px 0;
  text-align: left;
  border-bottom: 1px solid var(--rog-rule);
  overflow-wrap: anywhere;
}

/* A picture is shown where it will stand, small. */
.in-place {
  font-size: 13px;
}

.in-place :deep(img) {
  max-height: 90px;
}

th {
  font-weight: 500;
  color: var(--rog-ink-faint);
}
</style>
