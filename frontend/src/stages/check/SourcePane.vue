<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { partsQuery } from '@/api/queries'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import ColumnsDialog from './ColumnsDialog.vue'
import HowRead from './HowRead.vue'
import SourceLines from './SourceLines.vue'
import SourceParts from './SourceParts.vue'
import SourceSearch from './SourceSearch.vue'

const { mayEdit } = useRole(useCourse())

// What colours markup comes with the first markup that is looked at.
const MarkupView = defineAsyncComponent(() => import('./MarkupView.vue'))
const props = defineProps<{
  course: number
  reading: Schemas['ReadingOut']
  current: number
  first: number | null
  last: number | null
  /** The field of the item that the pointer is on. */
  lit: string
}>()
const emit = defineEmits<{ pick: [number]; correct: [] }>()
const lines = ref<InstanceType<typeof SourceLines>>()
const columns = ref(false)
const how = ref(false)
const asMarkup = useStorage('rogatum-markup', false)
const { data: parts } = useQuery(
  computed(() => ({
    ...partsQuery(props.course, props.reading.id, props.current),
    enabled: props.reading.has_parts && props.reading.cells.length > 0,
    placeholderData: keepPreviousData,
  })),
)
/** The lines that stand out: those of the part that was asked for, else of the field under the pointer. */
const asked = ref<number[][]>()
const spans = computed<number[][]>(
  () =>
    asked.value ??
    (props.lit
      ? (parts.value?.parts.filter((part) => part.field === props.lit).flatMap((part) => part.spans) ?? [])
      : []),
)
watch(
  () => [props.current, props.lit],
  () => (asked.value = undefined),
)
function showLines(part: Schemas['SourcePartOut']): void {
  asked.value = part.spans
  asMarkup.value = true
}
async function found(line: Schemas['HitOut']): Promise<void> {
  if (line.item && line.item !== props.current) emit('pick', line.item)
  await nextTick()
  if (props.reading.has_parts) {
    const at = line.index - (parts.value?.first ?? 1) + 2
    asked.value = [[at, at]]
  } else lines.value?.show(line.index)
}
useShortcuts([
  {
    keys: 'm',
    label: 'The source as parts or as markup',
    group: 'Check',
    run: () => (asMarkup.value = props.reading.has_parts && !asMarkup.value),
  },
])
</script>

<template>
  <section class="source" aria-label="Source">
    <header class="row spread head">
      <span class="name">{{ reading.name }}</span>
      <span class="row doors">
        <button v-if="reading.has_parts" type="button" class="link-button" @click="asMarkup = !asMarkup">
          {{ asMarkup ? 'Parts' : 'Markup' }} <kbd>m</kbd>
        </button>
        <SourceSearch v-if="reading.lines" :reading="reading.id" @hit="found" />
        <button v-if="reading.habits.length" type="button" class="link-button" @click="how = true">
          How it was read
        </button>
        <button v-if="reading.is_text && mayEdit" type="button" class="link-button" @click="emit('correct')">
          Correct the text <kbd>c</kbd>
        </button>
      </span>
      <button v-if="reading.columns.length" type="button" class="link-button" @click="columns = true">
        What the columns are
      </button>
    </header>
    <p v-if="!reading.lines" class="faint pad">This source is not shown line by line.</p>
    <div
      v-else-if="reading.has_parts && parts && (asMarkup || parts.parts.length)"
      class="own"
      :class="{ page: !asMarkup }"
    >
      <MarkupView v-if="asMarkup" :markup="parts.markup" :first="parts.first" :spans="spans" />
      <div v-else role="group" class="scroll" tabindex="0" aria-label="Parts of the source">
        <SourceParts :source="parts" :lit="lit" @lines="showLines" />
      </div>
    </div>
    <SourceLines
      v-else
      ref="lines"
      :course="course"
      :reading="reading"
      :first="first"
      :last="last"
      @pick="emit('pick', $event)"
    />
    <HowRead v-if="reading.habits.length" v-model="how" :course="course" :reading="reading" />
    <ColumnsDialog v-if="reading.columns.length" v-model="columns" :course="course" :reading="reading" />
  </section>
</template>

<style scoped>
.source {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
  background: var(--rog-sheet);
}

.head {
  padding: 7px 14px;
  border-bottom: 1px solid var(--rog-rule);
  flex-wrap: nowrap;
}

.name {
  font-weight: 500;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.pad {
  padding: 16px;
}

.own {
  min-height: 0;
}

.scroll {
  height: 100%;
  overflow: auto;
}

.doors {
  flex-wrap: nowrap;
  gap: 14px;
}
</style>
