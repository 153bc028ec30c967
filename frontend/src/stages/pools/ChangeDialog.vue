<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced, useStorage } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'

import { client, ok, Problem, type Schemas } from '@/api/client'
import { partedValues } from '@/ui/item-editor/values'
import { items, WORDS } from '@/ui/words'

import type { Pools } from './usePools'

/** The editor comes with the first feedback that is written. */
const RichInput = defineAsyncComponent(() => import('@/ui/editor/RichInput.vue'))
type Change = Schemas['ChangeManyIn']['change']

/** One change for all that is selected: what it would do to how many is shown before it is made. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ said: string; selection: Schemas['Selection']; course: number; pools: Pools }>()

const KINDS = {
  points: 'Points: the same for all',
  'points-times': 'Points: multiplied',
  'points-by-type': 'Points: by type',
  metadata: 'Outcome, difficulty, other metadata',
  shuffle: 'Shuffling of choices',
  type: 'Type',
  feedback: 'Feedback',
} as const
const kind = useStorage<keyof typeof KINDS>('rogatum-change', 'points')
const number = ref('1')
const byType = ref<Record<string, string>>({})
const label = ref('outcome')
const how = ref<'add' | 'remove' | 'replace'>('add')
const values = ref('')
const shuffle = ref<'yes' | 'no' | 'quiz'>('yes')
const type = ref('essay')
const slot = ref<'general' | 'correct' | 'incorrect'>('general')
const content = ref('')

const amount = computed(() => (number.value.trim() === '' ? NaN : Number(number.value.replace(',', '.'))))
const wanted = computed<Change | undefined>(() => {
  switch (kind.value) {
    case 'points':
      return amount.value >= 0 ? { kind: 'points', points: amount.value } : undefined
    case 'points-times':
      return amount.value > 0 ? { kind: 'points-times', factor: amount.value } : undefined
    case 'points-by-type': {
      const table = Object.entries(byType.value).filter(([, said]) => said.trim() !== '' && Number(said) >= 0)
      return table.length
        ? { kind: 'points-by-type', table: Object.fromEntries(table.map(([name, said]) => [name, Number(said)])) }
        : undefined
    }
    case 'metadata': {
      const list = partedValues(values.value)
      return label.value.trim() && (list.length || how.value === 'replace')
        ? { kind: 'metadata', label: label.value.trim(), how: how.value, values: list }
        : undefined
    }
    case 'shuffle':
      return { kind: 'shuffle', shuffle: { yes: true, no: false, quiz: null }[shuffle.value] }
    case 'type':
      return { kind: 'type', type: type.value as Schemas['SetType']['type'] }
    case 'feedback':
      return how.value === 'remove' || content.value.trim()
        ? { kind: 'feedback', slot: slot.value, how: how.value, content: content.value }
        : undefined
  }
  return undefined
})
const asked = refDebounced(
  computed(() => JSON.stringify(wanted.value ?? null)),
  200,
)
const { data: tally, error } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'change', asked.value, props.selection],
    enabled: open.value && asked.value !== 'null',
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      ok(
        client.POST('/api/courses/{course_id}/items/change/preview', {
          params: { path: { course_id: props.course } },
          body: { selection: props.selection, change: JSON.parse(asked.value) as Change },
        }),
      ),
  })),
)
/** The tally is of the change that is shown now. */
const told = computed(() => (wanted.value && asked.value === JSON.stringify(wanted.value) ? tally.value : undefined))
const spread = computed(() => (tally.value ? tally.value.looked < tally.value.selected : false))
watch(open, (now) => now && (content.value = ''))

async function done(): Promise<void> {
  if (!wanted.value || !told.value?.changes) return
  await props.pools.changeMany.mutateAsync({ selection: props.selection, change: wanted.value })
  open.value = false
}
</script>

<template>
  <ElDialog v-model="open" :title="`Change ${said}`" width="620" append-to-body>
    <form class="named-form" @submit.prevent="done">
      <label for="change-kind">What</label>
      <select id="change-kind" v-model="kind">
        <option v-for="(words, name) in KINDS" :key="name" :value="name">{{ words }}</option>
      </select>
      <template v-if="kind === 'points' || kind === 'points-times'">
        <label for="change-number">{{ kind === 'points' ? 'Points' : 'Times' }}</label>
        <ElInput id="change-number" v-model="number" inputmode="decimal" class="short" />
      </template>
      <template v-if="kind === 'points-by-type'">
        <span>Points</span>
        <div class="types">
          <label v-for="(words, name) in WORDS.types" :key="name">
            <ElInput v-model="byType[name]" inputmode="decimal" size="small" class="tiny" placeholder="–" /> {{ words }}
          </label>
        </div>
      </template>
      <template v-if="kind === 'metadata' || kind === 'feedback'">
        <label for="change-how">How</label>
        <select id="change-how" v-model="how">
          <option value="add">Add to what is there</option>
          <option value="replace">Put in the place of what is there</option>
          <option value="remove">Take away</option>
        </select>
      </template>
      <template v-if="kind === 'metadata'">
        <label for="change-label">Label</label>
        <input id="change-label" v-model="label" class="text" list="change-labels" />
        <datalist id="change-labels">
          <option v-for="(words, name) in WORDS.metadata" :key="name" :value="name">{{ words }}</option>
        </datalist>
        <label for="change-values">Values</label>
        <ElInput id="change-values" v-model="values" placeholder="2.1; 2.2" />
      </template>
      <template v-if="kind === 'shuffle'">
        <label for="change-shuffle">Choices</label>
        <select id="change-shuffle" v-model="shuffle">
          <option value="yes">may be put into another order</option>
          <option value="no">stay in this order</option>
          <option value="quiz">as the quiz says</option>
        </select>
      </template>
      <template v-if="kind === 'type'">
        <label for="change-type">Type</label>
        <select id="change-type" v-model="type">
          <option v-for="name in WORDS.types_to_make" :key="name" :value="name">{{ WORDS.types[name] }}</option>
        </select>
      </template>
      <template v-if="kind === 'feedback'">
        <label for="change-slot">Which</label>
        <select id="change-slot" v-model="slot">
          <option value="general">in any case</option>
          <option value="correct">for a right answer</option>
          <option value="incorrect">for a wrong answer</option>
        </select>
        <template v-if="how !== 'remove'">
          <span>Text</span>
          <RichInput v-model="content" label="Text of the feedback" />
        </template>
      </template>
    </form>
    <section class="told" aria-label="What it will do" aria-live="polite">
      <p v-if="error" class="signal">{{ error instanceof Problem ? error.message : 'It cannot be told.' }}</p>
      <p v-else-if="!wanted" class="faint">Say what it is to be.</p>
      <p v-else-if="!told" class="faint">Looking at what it would do…</p>
      <template v-else>
        <p>
          <template v-if="spread">Of {{ items(told.looked) }} that were looked at, spread over all: </template>
          <strong>{{ items(told.changes) }}</strong> will change<template v-if="told.same"
            >, {{ told.same.toLocaleString('en') }} {{ told.same === 1 ? 'is' : 'are' }} so already</template
          >.
        </p>
        <ul v-if="told.stays.length || told.goes.length || told.marks.length">
          <li v-for="entry in told.marks" :key="entry.what" class="signal">
            {{ items(entry.count) }} will be marked differently: {{ entry.what }}
          </li>
          <li v-for="entry in told.stays" :key="entry.what" class="signal">
            {{ items(entry.count) }} {{ entry.count === 1 ? 'stays' : 'stay' }}: {{ entry.what }}
          </li>
          <li v-for="entry in told.goes" :key="entry.what" class="signal">
            On {{ items(entry.count) }}, this goes: {{ entry.what }}
          </li>
        </ul>
        <table v-if="told.examples.length">
          <tbody>
            <tr v-for="entry in told.examples" :key="entry.item">
              <td class="stem">{{ entry.text }}</td>
              <td>{{ entry.before }}</td>
              <td aria-label="becomes">→</td>
              <td>{{ entry.after }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </section>
    <template #footer>
      <ElButton type="primary" :disabled="!told?.changes" :loading="pools.changeMany.isPending.value" @click="done">
        {{ spread ? `Change ${said}` : `Change ${items(told?.changes ?? 0)}` }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.types {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 12px;
}

.types label {
  display: flex;
  gap: 8px;
  align-items: center;
}

.short {
  width: 110px;
}

.tiny {
  width: 58px;
}

.text {
  padding: 4px 8px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
}

.told {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--rog-rule);
  min-height: 96px;
}

.signal {
  color: var(--rog-signal);
}

ul {
  margin: 0 0 8px;
  padding-left: 18px;
}

.stem {
  max-width: 290px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-family: var(--rog-serif);
}

td {
  padding: 1px 10px 1px 0;
  font-size: 13px;
  color: var(--rog-ink-soft);
}
</style>
