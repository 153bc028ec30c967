<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import PoolNaming from '@/ui/PoolNaming.vue'
import { sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { items } from '@/ui/words'

/** One take for several sources: one pattern for the names, every pool with its count before anything is done. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; sources: number[] }>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const which = ref<'sound' | 'all'>('sound')
const pattern = useStorage('rogatum-pattern', '{chapter}')
const purpose = useStorage('rogatum-purpose', '')
const pool = ref<number>()
const doubles = ref(false)
const quizzes = ref(false)
const body = computed(() => ({
  sources: props.sources,
  which: which.value,
  pattern: pattern.value || '{chapter}',
  purpose: purpose.value,
  pool: pool.value ?? null,
  duplicates_too: doubles.value,
  quizzes_too: quizzes.value,
}))
const params = computed(() => ({ path: { course_id: props.course } }))
const { data: foreseen } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'foreseen', body.value],
    queryFn: () => ok(client.POST('/api/courses/{course_id}/take/preview', { params: params.value, body: body.value })),
    enabled: open.value,
    placeholderData: keepPreviousData,
  })),
)
const kinds = (count: number, noun: string) => `${count} ${noun}${count === 1 ? '' : 's'}`
const words = computed(() => {
  const made = foreseen.value
  if (!made) return 'Take them'
  const sound = which.value === 'sound' ? 'sound ' : ''
  return `Take ${made.items} ${sound}${made.items === 1 ? 'item' : 'items'} of ${kinds(made.sources, 'source')} into ${kinds(made.pools.length, 'pool')}`
})
const take = useMutation({
  mutationFn: () => ok(client.POST('/api/courses/{course_id}/take', { params: params.value, body: body.value })),
  onSuccess: async () => {
    open.value = false
    emit('done')
    await router.push({ name: 'pools', params: { course: props.course } })
  },
  onError: sayProblem,
})
watch(open, (now) => now && (which.value = 'sound'))
useShortcuts([
  {
    keys: 'Ctrl+Enter',
    label: 'Take, in the dialog',
    group: 'Sources',
    run: () => open.value && foreseen.value?.items && take.mutate(),
    inFields: true,
  },
])
</script>

<template>
  <ElDialog v-model="open" title="Take several sources as one" width="680" append-to-body>
    <fieldset>
      <legend>Which items</legend>
      <label><input v-model="which" type="radio" value="sound" /> The sound ones, with no error or warning open</label>
      <label><input v-model="which" type="radio" value="all" /> All that wait</label>
      <p v-if="foreseen?.stays" class="signal">
        {{ items(foreseen.stays) }} {{ foreseen.stays === 1 ? 'stays' : 'stay' }} in Check.
      </p>
    </fieldset>
    <PoolNaming v-if="open" v-model:pattern="pattern" v-model:purpose="purpose" v-model:pool="pool" :course="course">
      <div class="pools" tabindex="0" role="group" aria-label="Pools">
        <table>
          <tbody>
            <tr v-for="entry in foreseen?.pools" :key="entry.path.join('/')">
              <td class="name">{{ entry.path.join(' / ') }}</td>
              <td class="number">{{ entry.items }}</td>
              <td class="faint">{{ entry.sources.join(', ') }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </PoolNaming>
    <label
      ><input v-model="doubles" type="checkbox" /> Take duplicates too, of items that are in the pools already</label
    >
    <br />
    <label><input v-model="quizzes" type="checkbox" /> Make the quizzes of these sources too</label>
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton type="primary" :disabled="!foreseen?.items" :loading="take.isPending.value" @click="take.mutate()">
        {{ words }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0 0 16px;
  padding: 0;
  display: grid;
  gap: 5px;
}

legend {
  font-weight: 600;
  padding: 0;
  margin-bottom: 4px;
}

p {
  margin: 0;
}

.signal {
  color: var(--rog-signal);
}

.pools {
  max-height: 220px;
  overflow: auto;
  margin-top: 6px;
  padding-left: 14px;
  border-left: 2px solid var(--rog-rule-strong);
}

td {
  padding: 2px 16px 2px 0;
  vertical-align: baseline;
}

.name {
  font-family: var(--rog-serif);
}
</style>
