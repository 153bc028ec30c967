<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import PoolNaming from '@/ui/PoolNaming.vue'
import { sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { items } from '@/ui/words'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  course: number
  reading: Schemas['ReadingOut']
  position: number
  waiting: number
  sound: number
}>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const which = ref<'all' | 'sound' | 'chosen'>('all')
const pattern = useStorage('rogatum-pattern', '{chapter}')
const purpose = useStorage('rogatum-purpose', '')
const pool = ref<number>()
const doubles = ref(false)
const tests = ref<string[]>([])

const body = computed(() => ({
  which: which.value,
  positions: which.value === 'chosen' ? [props.position] : [],
  pattern: pattern.value || '{chapter}',
  purpose: purpose.value,
  pool: pool.value ?? null,
  duplicates_too: doubles.value,
  quizzes: tests.value,
}))
const params = computed(() => ({ path: { reading_id: props.reading.id } }))
const { data: preview } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'names', props.reading.id, body.value],
    queryFn: () => ok(client.POST('/api/readings/{reading_id}/names', { params: params.value, body: body.value })),
    enabled: open.value,
    placeholderData: (before: Schemas['NamesOut'] | undefined) => before,
  })),
)
const count = computed(() => preview.value?.count ?? 0)
const take = useMutation({
  mutationFn: () => ok(client.POST('/api/readings/{reading_id}/take', { params: params.value, body: body.value })),
  onSuccess: async () => {
    open.value = false
    emit('done')
    await router.push({ name: tests.value.length ? 'quizzes' : 'pools', params: { course: props.course } })
  },
  onError: sayProblem,
})

/** What a test holds, in words. */
function contents(test: Schemas['TestOut']): string {
  const draws = test.draws === 1 ? '1 draw' : `${test.draws} draws`
  if (!test.draws) return items(test.items)
  return test.items ? `${items(test.items)} and ${draws}` : draws
}

watch(open, (now) => {
  if (now) tests.value = []
  if (now) which.value = props.sound < props.waiting && props.sound > 0 ? 'sound' : 'all'
})
useShortcuts([
  {
    keys: 'Ctrl+Enter',
    label: 'Take, in the dialog',
    group: 'Check',
    run: () => open.value && count.value && take.mutate(),
    inFields: true,
  },
])
</script>

<template>
  <ElDialog v-model="open" title="Take into pools" width="620" append-to-body>
    <fieldset>
      <legend>Which items</legend>
      <label><input v-model="which" type="radio" value="all" /> All {{ waiting }} that wait</label>
      <label
        ><input v-model="which" type="radio" value="sound" /> The {{ sound }} sound ones, with no error or warning
        open</label
      >
      <label><input v-model="which" type="radio" value="chosen" /> Item {{ position }} alone</label>
    </fieldset>
    <PoolNaming v-if="open" v-model:pattern="pattern" v-model:purpose="purpose" v-model:pool="pool" :course="course">
      <ul class="names">
        <li v-for="name in preview?.names" :key="name.join('/')">{{ name.join(' / ') }}</li>
      </ul>
    </PoolNaming>
    <fieldset v-if="reading.quizzes.length">
      <legend>{{ reading.quizzes.length === 1 ? 'The quiz' : 'Quizzes' }} of this source</legend>
      <label v-for="test in reading.quizzes" :key="test.id"
        ><input v-model="tests" type="checkbox" :value="test.id" /> Make the quiz “{{ test.title || reading.title }}”
        too: {{ contents(test) }}</label
      >
      <p v-if="tests.length && which !== 'all'" class="faint">
        Items that are not taken now are left out of it; add them when they are.
      </p>
    </fieldset>
    <label
      ><input v-model="doubles" type="checkbox" /> Take duplicates too, of items that are in the pools already</label
    >
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton type="primary" :disabled="!count" :loading="take.isPending.value" @click="take.mutate()">
        Take {{ items(count) }} into
        {{ preview?.names.length === 1 ? preview.names[0]!.join(' / ') : `${preview?.names.length ?? 0} pools` }}
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

.names {
  margin: 6px 0 0;
  padding: 6px 0 6px 14px;
  border-left: 2px solid var(--rog-rule-strong);
  list-style: none;
  font-family: var(--rog-serif);
  max-height: 150px;
  overflow: auto;
}

p {
  margin: 0;
}
</style>
