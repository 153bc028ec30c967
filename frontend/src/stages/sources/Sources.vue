<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, ok, upload, type Schemas } from '@/api/client'
import { sourcesQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { say, sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import BatchRow from './BatchRow.vue'
import ChosenBar from './ChosenBar.vue'
import { filesOfDrop } from './dropped'
import { grouped, sums } from './grouped'
import Offers from './Offers.vue'
import PasteDialog from './PasteDialog.vue'
import SourceRow from './SourceRow.vue'
import TakeAllDialog from './TakeAllDialog.vue'

type Source = Schemas['SourceOut']

const course = useCourse()
const { mayEdit } = useRole(course)
const queries = useQueryClient()
const { data: sources, error, isPending } = useQuery(computed(() => sourcesQuery(course.value)))
const over = ref(false)
const pasting = ref(false)
const fileField = ref<HTMLInputElement>()
const refresh = () => void queries.invalidateQueries({ queryKey: ['course', course.value] })

const send = useMutation({
  mutationFn: async (groups: { files: File[]; paths: string[] }[]) => {
    // What comes at once is one batch, whatever its folders are.
    const drop = crypto.randomUUID?.() ?? String(Math.random())
    for (const group of groups) await upload(course.value, group.files, group.paths, drop)
  },
  onSuccess: refresh,
  onError: sayProblem,
})
const remove = useMutation({
  mutationFn: (source: Source) =>
    ok(client.DELETE('/api/sources/{source_id}', { params: { path: { source_id: source.id } } })),
  onSuccess: () => {
    say('The source was put away. Items that were taken from it stay in their pools; undo brings it back.')
    refresh()
  },
  onError: sayProblem,
})
const groups = computed(() => grouped(sources.value ?? []))
const chosen = ref<number[]>([])
const choice = computed(() => (sources.value ?? []).filter((source) => chosen.value.includes(source.id)))
const taking = ref(false)
const toTake = ref<number[]>([])
const wait = computed(() => sums((sources.value ?? []).filter((source) => toTake.value.includes(source.id))))
function choose(id: number, on: boolean): void {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter((entry) => entry !== id)
}
function takeAll(ids: number[]): void {
  toTake.value = ids
  taking.value = true
}
const name = useMutation({
  mutationFn: ({ batch, words }: { batch: number; words: string }) =>
    ok(client.PATCH('/api/batches/{batch_id}', { params: { path: { batch_id: batch } }, body: { name: words } })),
  onSuccess: refresh,
  onError: sayProblem,
})
const setAside = useMutation({
  mutationFn: ({ ids, on }: { ids: number[]; on: boolean }) =>
    Promise.all(
      ids.map((id) =>
        ok(client.PUT('/api/sources/{source_id}/aside', { params: { path: { source_id: id } }, body: { aside: on } })),
      ),
    ),
  onSuccess: () => {
    chosen.value = []
    refresh()
  },
  onError: sayProblem,
})
const tests = computed(() => sources.value?.filter((source) => source.document && source.items) ?? [])
const join = useMutation({
  mutationFn: ({ keys, test }: { keys: Source; test: number }) =>
    ok(client.POST('/api/sources/{source_id}/keys', { params: { path: { source_id: keys.id } }, body: { test } })),
  onSuccess: refresh,
  onError: sayProblem,
})
const part = useMutation({
  mutationFn: (source: Source) =>
    ok(client.DELETE('/api/sources/{source_id}/keys', { params: { path: { source_id: source.id } } })),
  onSuccess: refresh,
  onError: sayProblem,
})
const again = useMutation({
  mutationFn: ({ source, expected }: { source: Source; expected: number | null }) =>
    ok(
      client.POST('/api/sources/{source_id}/read', {
        params: { path: { source_id: source.id } },
        body: { expected, format: null },
      }),
    ),
  onSuccess: refresh,
  onError: sayProblem,
})

async function dropped(event: DragEvent): Promise<void> {
  over.value = false
  if (!event.dataTransfer) return
  const text = event.dataTransfer.getData('text/plain')
  const groups = await filesOfDrop(event.dataTransfer)
  if (groups.length) send.mutate(groups)
  else if (text) await pasted(text, event.dataTransfer.getData('text/html'))
}

async function pasted(text: string, html: string): Promise<void> {
  await ok(
    client.POST('/api/courses/{course_id}/sources/paste', {
      params: { path: { course_id: course.value } },
      body: { text, html, name: '', expected: null, roles: {} },
    }),
  ).then(refresh, sayProblem)
}

function picked(event: Event): void {
  const field = event.target as HTMLInputElement
  const files = [...(field.files ?? [])]
  if (files.length) send.mutate([{ files, paths: [] }])
  field.value = ''
}

/** What is chosen, else the newest drop that has something to take. */
function takeNewest(): void {
  const group = groups.value.find((entry) => !entry.aside && entry.sources.some((source) => source.waiting))
  const ids = chosen.value.length ? chosen.value : (group?.sources.map((source) => source.id) ?? [])
  if (ids.length) takeAll(ids)
}
useShortcuts([
  {
    keys: 't',
    label: 'Take what is chosen, else the newest drop',
    group: 'Sources',
    run: () => mayEdit.value && takeNewest(),
  },
  { keys: 'p', label: 'Paste a test', group: 'Sources', run: () => (pasting.value = mayEdit.value) },
  { keys: 'o', label: 'Open files', group: 'Sources', run: () => fileField.value?.click() },
])
</script>

<template>
  <div class="page">
    <Offers :course="course" :may-edit="mayEdit" />
    <section
      v-if="mayEdit"
      class="drop"
      :class="{ over }"
      aria-label="Add sources"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="dropped"
    >
      <div>
        <h1>Add sources</h1>
        <p class="soft">
          Drop files, a folder, or an archive of archives here: QTI 1.2 to 3.0, Common Cartridge, GIFT, Word and other
          documents, sheets, text. A source is known by what it holds, whatever its name is.
        </p>
      </div>
      <div class="row actions">
        <ElButton type="primary" :loading="send.isPending.value" @click="fileField?.click()"
          >Open files <kbd>o</kbd></ElButton
        >
        <ElButton @click="pasting = true">Paste a test <kbd>p</kbd></ElButton>
        <input
          ref="fileField"
          class="visually-hidden"
          type="file"
          multiple
          tabindex="-1"
          aria-label="Files"
          @change="picked"
        />
      </div>
    </section>

    <ErrorState v-if="error" :error="error" />
    <p v-else-if="isPending" class="faint wait">Loading the sources…</p>
    <p v-else-if="!sources?.length" class="soft wait">
      No sources yet. A sound export of one chapter is three actions away from its pool: drop it, look at what is
      flagged, take it.
    </p>
    <table v-else class="sources">
      <thead>
        <tr>
          <th><span class="visually-hidden">Chosen</span></th>
          <th>Source</th>
          <th>What it is</th>
          <th class="number">Found</th>
          <th class="number">Expected</th>
          <th>Types</th>
          <th>Needs a look</th>
          <th>Next</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="group in groups" :key="group.key">
          <tr v-if="group.aside" class="aside-head">
            <td />
            <th colspan="7" scope="colgroup">Set aside</th>
          </tr>
          <BatchRow
            v-if="group.batch"
            :group="group"
            :course="course"
            @take="takeAll(group.sources.map((source) => source.id))"
            @name="name.mutate({ batch: group.batch.id, words: $event })"
          />
          <SourceRow
            v-for="source in group.sources"
            :key="source.id"
            :chosen="chosen.includes(source.id)"
            :source="source"
            :course="course"
            :tests="tests"
            @update:chosen="choose(source.id, $event)"
            @join="(test) => join.mutate({ keys: source, test })"
            @part="part.mutate(source)"
            @expect="(expected) => again.mutate({ source, expected })"
            @again="again.mutate({ source, expected: source.expected ?? null })"
            @remove="remove.mutate(source)"
            @take="takeAll([source.id])"
            @aside="setAside.mutate({ ids: [source.id], on: $event })"
          />
        </template>
      </tbody>
    </table>
    <ChosenBar
      v-if="choice.length"
      :course="course"
      :chosen="choice"
      @take="takeAll(chosen)"
      @aside="setAside.mutate({ ids: chosen, on: true })"
      @none="chosen = []"
    />
    <TakeAllDialog
      v-model="taking"
      :course="course"
      :sources="toTake"
      :sound="wait.sound"
      :waiting="wait.waiting"
      @done="((chosen = []), refresh())"
    />
    <PasteDialog v-model="pasting" :course="course" @done="refresh" />
  </div>
</template>

<style scoped>
.page {
  padding: 20px 24px 40px;
}

.drop {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 32px;
  padding: 18px 22px;
  border: 1.5px dashed var(--rog-rule-strong);
  background: var(--rog-sheet);
}

.drop.over {
  border-color: var(--rog-ink);
  background: var(--rog-joined);
}

.drop p {
  margin: 4px 0 0;
  max-width: 62ch;
}

.actions {
  flex-wrap: nowrap;
}

.wait {
  margin-top: 28px;
}

.sources {
  width: 100%;
  margin-top: 22px;
}

th {
  text-align: left;
  font-weight: 500;
  font-size: 12.5px;
  color: var(--rog-ink-faint);
  padding: 6px 10px 6px 0;
  border-bottom: 1px solid var(--rog-rule-strong);
}

.aside-head th {
  padding-top: 22px;
}

th.number {
  text-align: right;
  padding-right: 18px;
}
</style>
