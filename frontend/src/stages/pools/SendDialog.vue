<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { client, ok } from '@/api/client'
import { coursesQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { items } from '@/ui/words'

/** A copy of pools with what lies below them: into other courses at once, to colleagues as an offer, or as a file. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; pools: readonly { id: number; name: string }[]; mayEdit: boolean }>()
const queries = useQueryClient()
const { data: courses } = useQuery(coursesQuery())
const others = computed(
  () => courses.value?.filter((entry) => entry.id !== props.course && entry.role !== 'reader') ?? [],
)
const chosen = ref<number[]>([])
const people = ref('')
const note = ref('')
const names = computed(() => people.value.split(/[\s,;]+/).filter(Boolean))
watch(open, () => {
  chosen.value = []
  people.value = ''
  note.value = ''
})
const said = computed(() => (props.pools.length === 1 ? props.pools[0]?.name : `${props.pools.length} pools`))
const send = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/pools/send', {
        params: { path: { course_id: props.course } },
        body: {
          pools: props.pools.map((pool) => pool.id),
          courses: chosen.value,
          people: names.value,
          note: note.value,
        },
      }),
    ),
  onSuccess: async (sent) => {
    const where = sent.courses === 1 ? 'a course' : `${sent.courses} courses`
    const done = [
      sent.jobs.length
        ? `Copying ${items(sent.items)} into ${where}; ${sent.courses === 1 ? 'it' : 'each'} shows how far.`
        : sent.courses
          ? `Copied ${items(sent.items)} into ${where}.`
          : '',
      sent.offers ? `Offered ${items(sent.items)} to ${names.value.join(', ')}; Sources shows what becomes of it.` : '',
    ]
    say(done.filter(Boolean).join(' '))
    open.value = false
    await queries.invalidateQueries({ queryKey: ['offers'] })
    await queries.invalidateQueries({ queryKey: ['course'] })
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" :title="`Send a copy of ${said}`" width="500" append-to-body>
    <form class="stacked-form" @submit.prevent="send.mutate()">
      <p class="soft">
        What lies below goes along, with feedback, pictures and passages. A colleague looks at it in Check before
        anything of theirs is touched; what is here stays yours.
      </p>
      <label for="send-people">To colleagues, by the names of their accounts</label>
      <ElInput id="send-people" v-model="people" placeholder="tobin, ines" />
      <template v-if="names.length">
        <label for="send-note">A word with it</label>
        <ElInput id="send-note" v-model="note" type="textarea" :rows="2" maxlength="1000" />
      </template>
      <fieldset v-if="others.length">
        <legend>Into courses that I may change, at once</legend>
        <label v-for="entry in others" :key="entry.id" class="check">
          <input v-model="chosen" type="checkbox" :value="entry.id" />
          {{ entry.name }}<span v-if="entry.role !== 'owner'" class="faint"> ({{ entry.owner }}’s)</span>
        </label>
      </fieldset>
      <p v-if="mayEdit && pools[0]">
        For someone elsewhere, as a file:
        <RouterLink
          :to="{ name: 'hand-off', params: { course }, query: { pool: String(pools[0].id) } }"
          @click="open = false"
          >hand {{ pools[0].name }} on in any format, or whole as items JSON</RouterLink
        >.
      </p>
    </form>
    <template #footer>
      <ElButton
        type="primary"
        :disabled="!names.length && !chosen.length"
        :loading="send.isPending.value"
        @click="send.mutate()"
        >Send a copy</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 8px 0;
  padding: 0;
}

legend {
  padding: 0;
}

.check {
  display: block;
  padding: 3px 0;
}
</style>
