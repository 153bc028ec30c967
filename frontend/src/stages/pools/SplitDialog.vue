<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { client, ok, Problem, type Schemas } from '@/api/client'
import { say, sayProblem } from '@/ui/say'
import { items } from '@/ui/words'

/** Groups of what is selected, proposed by content or by a value; merged, named, left out, and made pools. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ said: string; selection: Schemas['Selection']; course: number; below: number | null }>()
const emit = defineEmits<{ done: [] }>()

interface Group {
  name: string
  words: string[]
  items: number[]
  examples: { id: number; text: string }[]
  out: boolean
}

const WAYS = {
  content: 'what they are about',
  outcome: 'outcome',
  type: 'type',
  difficulty: 'difficulty',
  topic: 'topic',
  source: 'source',
} as const
const by = ref<keyof typeof WAYS>('content')
const count = ref('')
const groups = ref<Group[]>([])
const wanted = computed(() => (by.value === 'content' && Number(count.value) >= 2 ? Number(count.value) : null))
const { data, error, isFetching } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'split', by.value, wanted.value, props.selection],
    enabled: open.value,
    retry: false,
    queryFn: () =>
      ok(
        client.POST('/api/courses/{course_id}/split/preview', {
          params: { path: { course_id: props.course } },
          body: { selection: props.selection, by: by.value, groups: wanted.value },
        }),
      ),
  })),
)
watch(
  data,
  (found) => (groups.value = (found ?? []).map((group) => ({ ...group, name: group.name || 'Group', out: false }))),
  { immediate: true },
)
const taken = computed(() => groups.value.filter((group) => !group.out))
const total = computed(() => taken.value.reduce((sum, group) => sum + group.items.length, 0))
const named = computed(() => {
  const names = taken.value.map((group) => group.name.trim())
  return names.every(Boolean) && new Set(names).size === names.length
})

/** Puts a group together with the one above it. */
function merge(place: number): void {
  const above = groups.value[place - 1]
  const group = groups.value[place]
  if (!above || !group) return
  above.items = [...above.items, ...group.items]
  above.words = [...new Set([...above.words, ...group.words])].slice(0, 6)
  above.examples = [...above.examples, ...group.examples].slice(0, 4)
  groups.value.splice(place, 1)
}
const split = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/split', {
        params: { path: { course_id: props.course } },
        body: {
          below: props.below,
          pools: taken.value.map((group) => ({ name: group.name.trim(), items: group.items })),
        },
      }),
    ),
  onSuccess: ({ count: moved, job }) => {
    if (!job) say(`Split ${items(moved)} into ${taken.value.length} pools.`)
    open.value = false
    emit('done')
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" :title="`Split ${said}`" width="760" append-to-body top="6vh">
    <form class="row ways" @submit.prevent>
      <label for="split-by">By</label>
      <select id="split-by" v-model="by">
        <option v-for="(words, name) in WAYS" :key="name" :value="name">{{ words }}</option>
      </select>
      <template v-if="by === 'content'">
        <label for="split-count">into</label>
        <ElInput id="split-count" v-model="count" class="count" inputmode="numeric" placeholder="what fits" />
        <span>groups</span>
      </template>
    </form>
    <p v-if="error" class="signal">{{ error instanceof Problem ? error.message : 'No groups can be proposed.' }}</p>
    <p v-else-if="isFetching" class="faint">Looking at what they are about…</p>
    <ol v-else class="groups" aria-label="Groups">
      <li v-for="(group, place) in groups" :key="place" :class="{ out: group.out }">
        <div class="head">
          <ElInput v-model="group.name" :aria-label="`Name of group ${place + 1}`" :disabled="group.out" />
          <span class="number">{{ items(group.items.length) }}</span>
          <button v-if="place" type="button" class="link-button" @click="merge(place)">Merge with the one above</button>
          <button type="button" class="link-button" :aria-pressed="group.out" @click="group.out = !group.out">
            {{ group.out ? 'Take in' : 'Leave out' }}
          </button>
        </div>
        <p v-if="group.words.length" class="soft words">{{ group.words.join(' · ') }}</p>
        <ul>
          <li v-for="example in group.examples" :key="example.id">{{ example.text || 'no stem' }}</li>
        </ul>
      </li>
    </ol>
    <template #footer>
      <span v-if="!named" class="signal note">Each pool needs a name of its own.</span>
      <ElButton
        type="primary"
        :disabled="!taken.length || !named || isFetching"
        :loading="split.isPending.value"
        @click="split.mutate()"
        >Make {{ taken.length }} {{ taken.length === 1 ? 'pool' : 'pools' }} of {{ items(total) }}</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
.ways {
  gap: 10px;
  margin-bottom: 12px;
}

.count {
  width: 96px;
}

.groups {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 56vh;
  overflow: auto;
}

.groups > li {
  padding: 10px 4px;
  border-top: 1px solid var(--rog-rule);
}

.groups > li.out ul,
.groups > li.out .words {
  display: none;
}

.head {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 76px auto 70px;
  gap: 14px;
  align-items: center;
}

.words {
  margin: 4px 0 2px;
  font-size: 13px;
}

ul {
  margin: 0;
  padding-left: 18px;
  font: 14.5px/1.4 var(--rog-serif);
}

ul li {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.signal {
  color: var(--rog-signal);
}

.note {
  margin-right: 12px;
}
</style>
