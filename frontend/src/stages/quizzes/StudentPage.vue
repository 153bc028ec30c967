<script setup lang="ts">
import { computed, nextTick, ref, toRef, watch } from 'vue'

import RichText from '@/ui/RichText.vue'

import StudentItem from './StudentItem.vue'
import { clock, type Trial, type useTrial } from './useTrial'

/** An attempt that goes on: one of its pages, the time that is left, and the way on. */
type Sitting = NonNullable<Trial['sitting']>
const props = defineProps<{ trial: Trial; sitting: Sitting; work: ReturnType<typeof useTrial> }>()
const sitting = toRef(props, 'sitting')
const page = computed(() => sitting.value.page)
const last = computed(() => page.value.number >= page.value.of - 1)
const asking = ref(false)
const top = ref<HTMLElement>()
const left = computed(() => props.work.left.value)
/** What a screen reader is told of the time: not each second. */
const told = computed(() => {
  const seconds = left.value ?? Infinity
  const marks = [600, 300, 60, 30]
  const mark = marks.filter((at) => seconds <= at).at(-1)
  return mark === undefined
    ? ''
    : mark >= 60
      ? `${mark / 60} ${mark === 60 ? 'minute is' : 'minutes are'} left`
      : '30 seconds are left'
})
const kept = computed(() => {
  if (!props.work.saving.value) return 'All answers are saved'
  return props.work.problem.value ? 'Not saved yet; it is tried again' : 'Saving…'
})
const open = computed(() => sitting.value.unanswered)

async function turn(number: number): Promise<void> {
  asking.value = false
  await props.work.turn.mutateAsync(number).catch(() => undefined)
}
watch(
  () => page.value.number,
  async () => {
    await nextTick()
    document.getElementById('main')?.scrollTo({ top: 0 })
    top.value?.focus()
  },
)
/** Goes to an item without an answer, on its page. */
async function goTo(place: number): Promise<void> {
  const number = sitting.value.pages_of_unanswered[open.value.indexOf(place)] ?? page.value.number
  if (number !== page.value.number) await turn(number)
  asking.value = false
  await nextTick()
  document.getElementById(`question-${place}`)?.scrollIntoView({ block: 'start' })
}
async function submit(): Promise<void> {
  asking.value = false
  await props.work.submit.mutateAsync().catch(() => undefined)
}
async function end(): Promise<void> {
  // What has no answer is told when the server has them all.
  if (props.work.saving.value) await props.work.save.mutateAsync().catch(() => undefined)
  asking.value = true
}
</script>

<template>
  <header ref="top" tabindex="-1">
    <h1>{{ trial.title }}</h1>
    <p class="state">
      <span>Attempt {{ sitting.number }}</span>
      <span v-if="page.of > 1">Page {{ page.number + 1 }} of {{ page.of }}</span>
      <span class="soft" role="status">{{ kept }}</span>
      <strong v-if="left !== undefined" class="left" :class="{ soon: left <= 60 }" aria-hidden="true"
        >{{ clock(left) }} left</strong
      >
      <span class="visually-hidden" role="status">{{ told }}</span>
    </p>
  </header>
  <ol class="items">
    <template v-for="item in page.items" :key="item.id">
      <li v-if="page.headings[item.id]" class="heading">
        <h2 v-if="page.headings[item.id]?.title">{{ page.headings[item.id]?.title }}</h2>
        <RichText v-if="page.headings[item.id]?.instructions" :content="page.headings[item.id]?.instructions" />
      </li>
      <StudentItem
        :id="`question-${page.places[item.id]}`"
        :item="item"
        :number="page.places[item.id] ?? 0"
        :marked="undefined"
        :model-value="sitting.responses[item.id]"
        @update:model-value="(given) => work.answer(item.id, given ?? null)"
      />
    </template>
  </ol>
  <footer>
    <ElButton v-if="sitting.back && page.number > 0" @click="turn(page.number - 1)">← Back</ElButton>
    <ElButton v-if="!last" type="primary" :loading="work.turn.isPending.value" @click="turn(page.number + 1)"
      >On to page {{ page.number + 2 }} →</ElButton
    >
    <ElButton :type="last ? 'primary' : 'default'" :loading="work.submit.isPending.value" @click="end"
      >Hand it in</ElButton
    >
  </footer>
  <ElDialog v-model="asking" title="Hand it in?" width="min(440px, 92vw)" append-to-body>
    <p v-if="!open.length">Every item has an answer.</p>
    <template v-else>
      <p>{{ open.length === 1 ? 'One item has' : `${open.length} items have` }} no answer yet:</p>
      <p class="row open">
        <button
          v-for="place in open"
          :key="place"
          type="button"
          class="link-button"
          :disabled="!sitting.back && sitting.pages_of_unanswered[open.indexOf(place)] !== page.number"
          @click="goTo(place)"
        >
          {{ place }}
        </button>
      </p>
    </template>
    <template #footer>
      <ElButton @click="asking = false">Go on with it</ElButton>
      <ElButton type="primary" @click="submit">{{ open.length ? 'Hand it in as it is' : 'Hand it in' }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
header {
  padding-bottom: 10px;
  border-bottom: 2px solid var(--rog-ink);
  outline: none;
}

.state {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 6px 0 0;
}

.left {
  margin-left: auto;
  font: 600 18px var(--rog-sans);
}

.soon {
  color: var(--rog-signal);
}

.items {
  list-style: none;
  margin: 0;
  padding: 0;
}

.heading {
  padding-top: 22px;
}

footer {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin-top: 26px;
}

.open {
  gap: 14px;
  font-size: 16px;
}

.open button:disabled {
  color: var(--rog-ink-faint);
  text-decoration: none;
}
</style>
