<script setup lang="ts">
import { useQueries } from '@tanstack/vue-query'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { linesQuery } from '@/api/queries'
import { decided, DECIDABLE, roleWord, type LineRole } from '@/stages/sources/lineRoles'
import RichText from '@/ui/RichText.vue'

import { measuredLater } from './measuredLater'
import { useReadAgain } from './useReadAgain'

/** A source line by line, loaded by the screenful: which lines an item is of, what each was read as, and what it may be instead. */
const LINE = 21
const PAGE_LINE = 31

const props = defineProps<{
  course: number
  reading: Schemas['ReadingOut']
  first: number | null
  last: number | null
}>()
const emit = defineEmits<{ pick: [number] }>()
const home = ref<HTMLElement>()
const hit = ref<number>()
const again = useReadAgain(() => props.course)
const isPage = computed(() => props.reading.document && !props.reading.is_text)
const decidable = computed(() => props.reading.document)
const kind = (index: number) => (lines.value.get(index)?.role ?? '').split(' ')[0]

const virtual = useVirtualizer(
  computed(() => ({
    count: props.reading.lines,
    getScrollElement: () => home.value ?? null,
    estimateSize: () => (isPage.value ? PAGE_LINE : LINE),
    overscan: 20,
    measureElement: measuredLater,
  })),
)
const shown = computed(() => virtual.value.getVirtualItems())
const chunks = computed(() => {
  const numbers = new Set(shown.value.map((row) => Math.floor(row.index / props.reading.chunk_lines)))
  if (props.first) numbers.add(Math.floor((props.first - 1) / props.reading.chunk_lines))
  return [...numbers]
})
const loaded = useQueries({
  queries: computed(() => chunks.value.map((chunk) => linesQuery(props.course, props.reading.id, chunk))),
})
const lines = computed(() => {
  const found = new Map<number, Schemas['LineOut']>()
  chunks.value.forEach((chunk, index) =>
    loaded.value[index]?.data?.forEach((line, offset) => found.set(chunk * props.reading.chunk_lines + offset, line)),
  )
  return found
})

watch(
  () => [props.first, props.reading.id],
  async () => {
    if (!props.first) return
    await nextTick()
    virtual.value.scrollToIndex(Math.max(0, props.first - 3), { align: 'start' })
  },
  { immediate: true },
)

function joined(index: number): boolean {
  return props.first !== null && props.last !== null && index + 1 >= props.first && index + 1 <= props.last
}

/** What a line may be said to be: all of it where the line is reached for, for a hundred lists of it are slow to lay out. */
const reached = ref<number>()
function rolesFor(index: number): typeof DECIDABLE {
  if (joined(index) || reached.value === index) return DECIDABLE
  const said = props.reading.roles[lines.value.get(index)?.name ?? '']
  return DECIDABLE.filter((entry) => entry.role === said)
}

/** Plain text as content. */
const textOf = (text = '') => text.replace(/&/g, '&amp;').replace(/</g, '&lt;')

/** Says what a line is, and reads the source again with that. */
function decide(line: Schemas['LineOut'], event: Event): void {
  const role = (event.target as HTMLSelectElement).value as LineRole | ''
  const roles = decided(props.reading.roles, line.name, role || undefined)
  again.mutate({ reading: props.reading, options: { roles } })
}

/** Shows a line that was searched for. */
function show(index: number): void {
  hit.value = index
  virtual.value.scrollToIndex(Math.max(0, index - 3), { align: 'start' })
}
defineExpose({ show })
</script>

<template>
  <div ref="home" role="group" class="lines" :class="{ page: isPage }" tabindex="0" aria-label="Lines of the source">
    <div :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
      <div
        v-for="row in shown"
        :ref="(element) => virtual.measureElement(element as Element)"
        :key="row.index"
        :data-index="row.index"
        class="line"
        :class="{
          [kind(row.index) ?? '']: isPage,
          joined: joined(row.index),
          hit: row.index === hit,
          owned: lines.get(row.index)?.item,
          loose: lines.get(row.index)?.role === 'outside',
        }"
        :style="{ transform: `translateY(${row.start}px)` }"
        @click="lines.get(row.index)?.item && emit('pick', lines.get(row.index)!.item!)"
      >
        <span class="gutter">{{ lines.get(row.index)?.number ?? '' }}</span>
        <span class="role" :class="{ said: reading.roles[lines.get(row.index)?.name ?? ''] }">
          {{ roleWord(lines.get(row.index)?.role) }}
          <select
            v-if="decidable && lines.get(row.index)?.name"
            :aria-label="`What line ${lines.get(row.index)!.number} is`"
            title="Say what this line is"
            :tabindex="joined(row.index) ? 0 : -1"
            :value="reading.roles[lines.get(row.index)!.name] ?? ''"
            :disabled="again.isPending.value"
            @pointerenter="reached = row.index"
            @focus="reached = row.index"
            @click.stop
            @change="decide(lines.get(row.index)!, $event)"
          >
            <option value="">as it was found</option>
            <option v-for="entry in rolesFor(row.index)" :key="entry.role" :value="entry.role">
              {{ entry.label }}
            </option>
          </select>
        </span>
        <RichText
          v-if="isPage"
          class="text"
          :content="lines.get(row.index)?.html || textOf(lines.get(row.index)?.text)"
        />
        <span v-else class="text">{{ lines.get(row.index)?.text ?? '' }}</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.hit {
  box-shadow: inset 3px 0 var(--rog-signal);
}

.lines {
  overflow: auto;
  font: 12.5px/21px var(--rog-mono);
}

.line {
  position: absolute;
  top: 0;
  left: 0;
  width: 100%;
  min-height: 21px;
  display: flex;
}

/* A long line goes on below itself, never out of the pane. */
.line .text {
  flex: 1;
  min-width: 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}

/* A document stands as on its page: the paper between the gutter and the edge, lines as high as they are. */
.page .line {
  min-height: 31px;
  line-height: 1.4;
}

.page .line .text {
  white-space: normal;
}

.page .gutter,
.page .role {
  padding-top: 6px;
}

.page .text {
  flex: 1;
  min-width: 0;
  padding: 4px 28px 4px 22px;
  border-left: 1px solid var(--rog-rule);
  font-size: 15px;
}

.page .choice .text,
.page .truth .text {
  padding-left: 50px;
}

.page .heading .text,
.page .title .text {
  font-weight: 600;
  padding-top: 10px;
}

.page .text :deep(mark) {
  background: var(--rog-caution-ground);
  color: inherit;
  box-shadow: 0 0 0 2px var(--rog-caution-ground);
}

.owned {
  cursor: pointer;
}

.joined {
  background: var(--rog-joined);
  box-shadow: inset 3px 0 0 var(--rog-ink);
}

.loose .text {
  color: var(--rog-signal);
}

.gutter {
  flex: none;
  width: 44px;
  padding-right: 10px;
  text-align: right;
  color: var(--rog-ink-faint);
  user-select: none;
}

.role {
  flex: none;
  width: 66px;
  font: 11px/21px var(--rog-sans);
  color: var(--rog-ink-faint);
  user-select: none;
}

.role {
  position: relative;
}

.role:hover,
.role:focus-within,
.role.said {
  text-decoration: underline;
  text-underline-offset: 3px;
}

.joined .role:has(select) {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}

.role.said {
  font-weight: 600;
  color: var(--rog-ink);
}

/* Laid over the word of the role, which it opens the choice for. */
.role select {
  position: absolute;
  inset: 0;
  width: 100%;
  opacity: 0;
  cursor: pointer;
}

.joined .gutter,
.joined .role {
  color: var(--rog-ink-soft);
}

.text {
  padding-right: 20px;
}
</style>
