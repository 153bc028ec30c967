<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { formatsQuery, jobsQuery, quizQuery } from '@/api/queries'
import { useRemembered } from '@/ui/remembered'
import { sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'

type Copy = NonNullable<Schemas['HandOffIn']['copy_for']>
type Draws = NonNullable<Schemas['HandOffIn']['draws']>

/** What is chosen as a file of one format, whoever it is for. */
const props = defineProps<{ what: Schemas['ScopeIn'] }>()
const course = useCourse()
const router = useRouter()
const queries = useQueryClient()
const { data: formats } = useQuery(formatsQuery())
const { data: jobs } = useQuery(computed(() => jobsQuery(course.value)))
const format = useRemembered<string>('format', 'qti-1.2')
const copy = useRemembered<Copy>('copy', 'teacher')
const versions = useRemembered<number>('versions', 1)
const draws = useRemembered<Draws>('draws', 'drawn')
const seed = ref('')
const started = ref('')
const writable = computed(() => (formats.value ?? []).filter((entry) => entry.write))
const chosen = computed(() => writable.value.find((entry) => entry.name === format.value))
const copies = computed(() => chosen.value?.copies ?? [])
const copyFor = computed<Copy>(() => (copies.value.includes(copy.value) ? copy.value : 'teacher'))
const many = computed(() => Math.min(versions.value, chosen.value?.most_versions ?? 1))
/** Whether it is a quiz that draws, on paper: there stands one set, or all of it. */
const { data: quiz } = useQuery(
  computed(() => ({ ...quizQuery(course.value, props.what.quiz ?? 0), enabled: Boolean(props.what.quiz) })),
)
const draw = computed(
  () => copies.value.length > 1 && Boolean(props.what.quiz && quiz.value?.parts.some((part) => part.kind === 'draw')),
)
const DRAW_WORDS: Record<Draws, string> = {
  drawn: 'one set drawn for each version',
  stock: 'all questions that the quiz draws from',
}
const COPY_WORDS: Record<Copy, string> = {
  teacher: 'teacher: key, points, feedback',
  student: 'students: no key',
  'key list': 'students, with the key as a list at the end',
}
/** What a format has no place for; of a quiz, its settings count too. */
function lacking({ lacks, settings_lacking }: Schemas['FormatOut']): string {
  const all = props.what.quiz ? [...lacks, ...settings_lacking] : lacks
  return all.length ? ` has no place for ${all.join(', ')}` : ' has a place for everything'
}
const copyWord = (name: Copy) =>
  format.value === 'pdf' && name === 'teacher' ? 'students, with the key on a page of its own' : COPY_WORDS[name]

const make = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/handoffs', {
        params: { path: { course_id: course.value } },
        body: {
          format: format.value,
          copy_for: copyFor.value,
          versions: many.value,
          draws: draw.value ? draws.value : 'stock',
          seed: draw.value && draws.value === 'drawn' ? seed.value : '',
          ...props.what,
        },
      }),
    ),
  onSuccess: (job) => {
    started.value = job.id
    void queries.invalidateQueries({ queryKey: ['course', course.value, 'jobs'] })
  },
  onError: sayProblem,
})
watch(jobs, (now) => {
  const job = now?.find((entry) => entry.id === started.value)
  if (job?.state === 'failed') started.value = ''
  if (job?.state !== 'done') return
  started.value = ''
  void router.push({ name: 'ledger', params: { course: course.value, handoff: Number(job.result?.handoff) } })
})
</script>

<template>
  <form class="choose" @submit.prevent="make.mutate()">
    <span id="as">As</span>
    <div class="formats" role="radiogroup" aria-labelledby="as">
      <label v-for="entry in writable" :key="entry.name" :class="{ chosen: entry.name === format }">
        <input v-model="format" type="radio" name="format" :value="entry.name" />
        <span>
          <strong>{{ entry.label }}</strong>
          <span class="soft">{{ lacking(entry) }}</span>
        </span>
      </label>
    </div>
    <template v-if="copies.length > 1">
      <span id="for">For</span>
      <div class="row options" role="radiogroup" aria-labelledby="for">
        <label v-for="name in copies" :key="name">
          <input type="radio" name="copy" :value="name" :checked="name === copyFor" @change="copy = name" />
          {{ copyWord(name) }}
        </label>
      </div>
    </template>
    <template v-if="(chosen?.most_versions ?? 1) > 1">
      <label for="versions">In</label>
      <div class="options">
        <select id="versions" :value="many" @change="versions = Number(($event.target as HTMLSelectElement).value)">
          <option v-for="n in chosen!.most_versions" :key="n" :value="n">
            {{ n === 1 ? 'one version' : `${n} versions, A to ${String.fromCharCode(64 + n)}` }}
          </option>
        </select>
        <span v-if="many > 1" class="soft">each in an order of its own, each with its key</span>
      </div>
    </template>
    <template v-if="draw">
      <span id="draws">With</span>
      <div class="row options" role="radiogroup" aria-labelledby="draws">
        <label v-for="(words, name) in DRAW_WORDS" :key="name">
          <input type="radio" name="draws" :value="name" :checked="name === draws" @change="draws = name" />
          {{ words }}
        </label>
        <label v-if="draws === 'drawn'">
          Seed
          <input v-model="seed" maxlength="40" pattern="[\w\- ]*" class="seed" placeholder="a new one" />
          <span class="soft">The same seed draws the same sets; it is printed.</span>
        </label>
      </div>
    </template>
    <span />
    <div>
      <ElButton native-type="submit" :loading="make.isPending.value || Boolean(started)">
        Write it as {{ chosen?.label ?? '…' }} and compare
      </ElButton>
    </div>
  </form>
</template>

<style scoped>
.choose {
  display: grid;
  grid-template-columns: 60px minmax(0, 1fr);
  gap: 14px 10px;
  margin: 18px 0 36px;
}

.choose > label,
#as,
#for,
#draws {
  padding-top: 5px;
  font-weight: 500;
}

.formats {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 28px;
  border-top: 1px solid var(--rog-rule);
}

.formats label {
  display: flex;
  gap: 10px;
  padding: 4px 10px;
  border-bottom: 1px solid var(--rog-rule);
  align-items: baseline;
  line-height: 1.35;
}

.formats strong,
.formats .soft {
  display: block;
}

.formats .soft {
  font-size: 12.5px;
}

.formats label.chosen {
  background: var(--rog-joined);
}

.options {
  padding-top: 5px;
  gap: 8px 22px;
}

.options select {
  margin-right: 10px;
}

.seed {
  width: 90px;
  margin: 0 8px 0 6px;
}

.options input,
.formats input {
  accent-color: var(--rog-ink);
}
</style>
