<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import TypedField from '@/ui/TypedField.vue'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { size, WORDS } from '@/ui/words'

type Source = Schemas['SourceOut']

const props = defineProps<{ source: Source; course: number; tests: Source[] }>()
const chosenRow = defineModel<boolean>('chosen', { default: false })
const { mayEdit } = useRole(useCourse())
const emit = defineEmits<{
  expect: [number | null]
  again: []
  remove: []
  join: [number]
  part: []
  aside: [boolean]
  take: []
}>()

const test = ref<number>()
const chosen = computed(() => test.value ?? props.source.likely_test ?? undefined)

const types = computed(() =>
  Object.entries(props.source.types ?? {})
    .sort((a, b) => b[1] - a[1])
    .map(([type, count]) => `${count} ${WORDS.types[type] ?? type}`)
    .join(', '),
)
const differs = computed(() => props.source.expected != null && props.source.expected !== props.source.items)
const reading = computed(() => ({
  name: 'reading',
  params: { course: props.course, reading: props.source.reading ?? 0 },
}))

function expect(typed: string): void {
  const value = typed.trim()
  emit('expect', value ? Number(value) : null)
}
</script>

<template>
  <tr :class="{ within: source.batch && !source.aside }">
    <td class="choose">
      <input
        v-if="mayEdit"
        v-model="chosenRow"
        type="checkbox"
        :disabled="!source.reading"
        :aria-label="`Choose ${source.name}`"
      />
    </td>
    <td class="name">
      <RouterLink v-if="source.reading" :to="reading">{{ source.name }}</RouterLink>
      <span v-else>{{ source.name }}</span>
      <div class="faint small">{{ source.title }}</div>
      <div v-for="name in source.keys_from" :key="name" class="faint small">
        with the keys of {{ name }}
        <button v-if="mayEdit" type="button" class="link-button" @click="emit('part')">Part them</button>
      </div>
    </td>
    <template v-if="source.problem">
      <td colspan="5" :class="source.problem.keys ? 'keys' : 'problem'">
        <strong>{{ source.problem.fact }}</strong> {{ source.problem.way_out }}
        <form
          v-if="source.problem.keys && tests.length && mayEdit"
          class="join"
          @submit.prevent="chosen && emit('join', chosen)"
        >
          <label :for="`test-${source.id}`">They are the keys of</label>
          <select
            :id="`test-${source.id}`"
            :value="chosen ?? ''"
            @change="test = Number(($event.target as HTMLSelectElement).value)"
          >
            <option v-if="!chosen" value="">choose the test</option>
            <option v-for="entry in tests" :key="entry.id" :value="entry.id">{{ entry.name }}</option>
          </select>
          <ElButton size="small" type="primary" native-type="submit" :disabled="!chosen">Join them</ElButton>
        </form>
      </td>
    </template>
    <template v-else-if="!source.reading">
      <td colspan="5" class="faint">Being read…</td>
    </template>
    <template v-else>
      <td>
        {{ WORDS.formats[source.format ?? ''] ?? source.format }}
        <div class="faint small">
          {{ size(source.size) }}<template v-if="source.kind === 'paste'">, pasted</template>
        </div>
      </td>
      <td class="number big">{{ source.items }}</td>
      <td class="number">
        <TypedField
          class="expected"
          :class="{ differs }"
          inputmode="numeric"
          pattern="[0-9]*"
          :model-value="source.expected"
          :aria-label="`How many items ${source.name} should have`"
          placeholder="?"
          :disabled="!mayEdit"
          @update:model-value="expect"
        />
      </td>
      <td class="types">{{ types }}</td>
      <td class="flags">
        <span v-if="differs" class="error">count differs</span>
        <span v-if="source.worst?.error" class="error">{{ source.worst.error }} with errors</span>
        <span v-if="source.worst?.warning" class="warning">{{ source.worst.warning }} with warnings</span>
        <span v-if="source.unclaimed" class="note">{{ source.unclaimed }} unclaimed</span>
        <span v-if="!differs && !source.worst?.error && !source.worst?.warning && !source.unclaimed" class="faint"
          >nothing</span
        >
      </td>
    </template>
    <td class="next">
      <button v-if="source.aside && mayEdit" class="link-button" @click="emit('aside', false)">Bring it back</button>
      <RouterLink v-else-if="source.reading && source.waiting" :to="reading">Check {{ source.waiting }}</RouterLink>
      <span v-else-if="source.reading && !source.items" class="faint">no questions found</span>
      <span v-else-if="source.reading" class="faint">all taken</span>
      <button v-else-if="source.problem && mayEdit" class="link-button" @click="emit('again')">Read again</button>
      <button v-if="source.sound && !source.aside && mayEdit" class="link-button" @click="emit('take')">
        Take {{ source.sound }}
      </button>
      <button v-if="mayEdit" class="link-button faint" :aria-label="`Put away ${source.name}`" @click="emit('remove')">
        Put away
      </button>
    </td>
  </tr>
</template>

<style scoped>
.choose {
  width: 26px;
}

.within .name {
  padding-left: 14px;
}

td {
  padding: 9px 10px 9px 0;
  border-bottom: 1px solid var(--rog-rule);
  vertical-align: top;
}

.name {
  font-weight: 500;
  max-width: 280px;
  overflow-wrap: anywhere;
}

.small {
  font-size: 12.5px;
  font-weight: 400;
}

.number {
  padding-right: 18px;
}

.big {
  font: 600 17px var(--rog-serif);
}

.expected {
  width: 52px;
  font: inherit;
  text-align: right;
  border: 0;
  border-bottom: 1px solid var(--rog-rule-strong);
  background: transparent;
  color: inherit;
  padding: 2px;
}

.expected.differs {
  color: var(--rog-signal);
  border-color: var(--rog-signal);
  font-weight: 600;
}

.types {
  max-width: 250px;
  color: var(--rog-ink-soft);
}

.flags span {
  display: block;
}

.error,
.problem {
  color: var(--rog-signal);
}

.warning {
  color: var(--rog-caution);
}

.join {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-top: 7px;
}

.join select {
  max-width: 300px;
}

.note {
  color: var(--rog-aside);
}

.next {
  white-space: nowrap;
  text-align: right;
  padding-right: 0;
}

.next > * + * {
  margin-left: 14px;
}
</style>
