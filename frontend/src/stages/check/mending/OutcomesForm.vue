<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'

import { client, ok, rowsOf } from '@/api/client'
import { courseQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'

import type { Wish } from './wishes'

/** Outcomes by the numbers of questions or by chapter; and the course's own list of them. */
const wish = defineModel<Wish | undefined>({ required: true })
const props = defineProps<{ course: number; pools: string[][] }>()
const queries = useQueryClient()
const { data: course } = useQuery(computed(() => courseQuery(props.course)))
const byChapter = ref(false)
const text = ref('')
const replace = ref(false)
const chapters = reactive<Record<number, string>>({})
const list = ref('')
const split = (codes: string) =>
  codes
    .split(/[,;]/)
    .map((code) => code.trim())
    .filter(Boolean)

watch(
  () => course.value?.outcomes,
  (outcomes) =>
    (list.value = (outcomes ?? []).map(({ code, text: words }) => (words ? `${code}\t${words}` : code)).join('\n')),
  { immediate: true },
)
watch(
  [byChapter, text, replace, chapters],
  () => {
    if (!byChapter.value) {
      wish.value = text.value.trim()
        ? { kind: 'outcomes-by-number', text: text.value, replace: replace.value }
        : undefined
      return
    }
    const table = props.pools
      .map((path, index): [string[], string[]] => [path, split(chapters[index] ?? '')])
      .filter(([, codes]) => codes.length)
    wish.value = table.length ? { kind: 'outcomes-by-chapter', table, replace: replace.value } : undefined
  },
  { immediate: true, deep: true },
)
const keep = useMutation({
  mutationFn: () =>
    ok(
      client.PUT('/api/courses/{course_id}/outcomes', {
        params: { path: { course_id: props.course } },
        body: { text: list.value, version: course.value?.outcomes_version },
      }),
    ),
  onSuccess: async ({ outcomes }) => {
    say(`The course has ${outcomes.length} outcomes.`)
    await queries.invalidateQueries({ queryKey: courseQuery(props.course).queryKey })
  },
  onError: sayProblem,
})
async function fromSheet(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  await rowsOf(props.course, file).then(
    (rows) => (list.value = rows.map((row) => row.filter(Boolean).slice(0, 2).join('\t')).join('\n')),
    sayProblem,
  )
}
</script>

<template>
  <div class="row ways">
    <label><input v-model="byChapter" type="radio" :value="false" /> by the numbers of questions</label>
    <label><input v-model="byChapter" type="radio" :value="true" /> by chapter</label>
    <label><input v-model="replace" type="checkbox" /> in place of those that are there</label>
  </div>
  <textarea
    v-if="!byChapter"
    v-model="text"
    rows="3"
    aria-label="Outcomes by number"
    placeholder="1–5: 2.1; 6, 8: 2.2"
  />
  <table v-else>
    <tbody>
      <tr v-for="(path, index) in pools" :key="index">
        <td>{{ path.join(' / ') || 'without a chapter' }}</td>
        <td>
          <input v-model="chapters[index]" :aria-label="`Outcomes of ${path.join(' / ')}`" placeholder="2.1, 2.2" />
        </td>
      </tr>
    </tbody>
  </table>
  <details>
    <summary>The course's outcomes ({{ course?.outcomes.length ?? 0 }})</summary>
    <p class="faint">One a line, a code and its text. While stepping, <kbd>u</kbd> offers them.</p>
    <textarea v-model="list" rows="6" aria-label="Outcomes of the course" />
    <p class="row">
      <ElButton size="small" :loading="keep.isPending.value" @click="keep.mutate()">Keep this list</ElButton>
      <label class="link-button"
        >from a sheet<input class="visually-hidden" type="file" accept=".csv,.tsv,.txt,.xlsx,.ods" @change="fromSheet"
      /></label>
    </p>
  </details>
</template>

<style scoped>
textarea {
  width: 100%;
}

.ways {
  gap: 20px;
}

td {
  padding: 2px 12px 2px 0;
}

details {
  margin-top: 8px;
}

summary {
  cursor: pointer;
}
</style>
