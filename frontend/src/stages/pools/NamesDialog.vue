<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'

import { client, ok } from '@/api/client'
import { say, sayProblem } from '@/ui/say'

/** Names for several pools at once: words replaced, and a pattern around them; each new name is shown beside the old. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; pools: readonly number[] }>()
const queries = useQueryClient()
const pattern = ref('{name}')
const find = ref('')
const replace = ref('')
const body = computed(() => ({
  pools: [...props.pools],
  pattern: pattern.value || '{name}',
  find: find.value,
  replace: replace.value,
}))
const asked = refDebounced(body, 150)
const { data: names } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'names', asked.value],
    enabled: open.value,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ok(
        client.POST('/api/courses/{course_id}/pools/names', {
          params: { path: { course_id: props.course } },
          body: asked.value,
        }),
      ),
  })),
)
const changed = computed(() => names.value?.filter((entry) => entry.before !== entry.after).length ?? 0)
const rename = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/pools/rename', {
        params: { path: { course_id: props.course } },
        body: body.value,
      }),
    ),
  onSuccess: async ({ count }) => {
    say(`Renamed ${count} ${count === 1 ? 'pool' : 'pools'}.`)
    open.value = false
    await queries.invalidateQueries({ queryKey: ['course', props.course] })
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" :title="`Name ${pools.length} pools`" width="560" append-to-body>
    <form class="named-form" @submit.prevent="rename.mutate()">
      <label for="names-find">Replace</label>
      <div class="two">
        <ElInput id="names-find" v-model="find" placeholder="Chapter" />
        <ElInput v-model="replace" aria-label="Replace with" placeholder="by nothing" />
      </div>
      <label for="names-pattern">Pattern</label>
      <ElInput id="names-pattern" v-model="pattern" />
    </form>
    <p class="soft">{name}, {number}, {parent} and {course} stand for what they say.</p>
    <table>
      <tbody>
        <tr v-for="entry in names" :key="entry.id">
          <td class="soft">{{ entry.before }}</td>
          <td aria-label="becomes">→</td>
          <td :class="{ faint: entry.before === entry.after }">{{ entry.after }}</td>
        </tr>
      </tbody>
    </table>
    <template #footer>
      <ElButton type="primary" :disabled="!changed" :loading="rename.isPending.value" @click="rename.mutate()"
        >Rename {{ changed }} {{ changed === 1 ? 'pool' : 'pools' }}</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

p {
  margin: 8px 0;
}

td {
  padding: 2px 12px 2px 0;
}
</style>
