<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { itemPageOfQuery } from '@/api/queries'
import DiffLines from '@/ui/DiffLines.vue'
import ErrorState from '@/ui/ErrorState.vue'
import ItemView from '@/ui/ItemView.vue'
import LevelMark from '@/ui/LevelMark.vue'
import { say, sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { when } from '@/ui/words'

/** All that is known of an item: what it says, what it said, where it came from, where it is used, what is like it. */
const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const item = computed(() => Number(route.params.item))
const { data: page, error } = useQuery(computed(() => itemPageOfQuery(course.value, item.value)))
const opened = ref<number>()
const restore = useMutation({
  mutationFn: (operation: number) =>
    ok(
      client.POST('/api/items/{item_id}/versions/{operation_id}', {
        params: { path: { item_id: item.value, operation_id: operation } },
      }),
    ),
  onSuccess: async () => {
    say('Brought back as it was.')
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
  },
  onError: sayProblem,
})
const inPools = computed(() => ({
  name: 'pools',
  params: { course: course.value },
  query: { pool: String(page.value?.item.pool ?? ''), item: String(item.value) },
}))
useShortcuts([
  { keys: 'e', label: 'Edit the item in its pool', group: 'Item', run: () => void router.push(inPools.value) },
])
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!page" class="faint wait">Loading…</p>
  <div v-else class="page">
    <section class="content" aria-label="Item">
      <header class="row spread">
        <span class="soft"
          >{{ page.course_name }}, {{ page.owner }}’s:
          <RouterLink :to="inPools">{{ page.item.path.join(' / ') }}</RouterLink></span
        >
        <RouterLink v-if="page.editable" :to="inPools">Edit it in its pool <kbd>e</kbd></RouterLink>
      </header>
      <ItemView :item="page.item.item" :stimulus="page.item.stimulus" />
    </section>
    <aside aria-label="What is known of it">
      <section v-if="page.item.findings.length || page.advice.length">
        <h2>Open</h2>
        <p v-for="finding in [...page.item.findings, ...page.advice]" :key="finding.code + finding.message">
          <LevelMark :level="finding.level" /> {{ finding.message }} <span class="soft">{{ finding.fix }}</span>
        </p>
      </section>
      <section>
        <h2>Where it came from</h2>
        <p v-if="page.came_from.reading">
          <RouterLink
            :to="{
              name: 'reading',
              params: { course, reading: page.came_from.reading },
              query: { item: String(page.came_from.position) },
            }"
            >{{ page.came_from.origin || page.came_from.source }}</RouterLink
          >
        </p>
        <p v-else-if="page.came_from.origin">
          {{ page.came_from.origin }} <span class="faint">The reading is no longer there.</span>
        </p>
        <p v-else class="soft">It was made here.</p>
      </section>
      <section>
        <h2>Where it is used</h2>
        <p v-if="!page.used.length" class="soft">In no quiz.</p>
        <p v-for="use in page.used" :key="use.quiz">
          <RouterLink :to="{ name: 'quiz', params: { course, quiz: use.quiz } }">{{ use.title }}</RouterLink>
          <span class="soft">{{ use.how === 'fixed' ? ', for each student' : ', among those drawn from' }}</span>
        </p>
        <p class="soft">{{ page.handed ? `Handed on last ${when(page.handed)}.` : 'Not handed on yet.' }}</p>
      </section>
      <section>
        <h2>What is like it</h2>
        <p v-if="!page.alike.length" class="soft">
          Nothing that was found.
          <RouterLink :to="{ name: 'alike', params: { course } }">Look for near-duplicates</RouterLink>
        </p>
        <p v-for="pair in page.alike" :key="pair.id">
          <RouterLink :to="{ name: 'alike', params: { course, pair: pair.id } }">{{ pair.text }}</RouterLink>
          <span class="soft">, {{ pair.percent }} %{{ pair.decision ? ', both kept' : '' }}</span>
        </p>
      </section>
      <section>
        <h2>History</h2>
        <ol>
          <li v-for="version in page.versions" :key="version.operation" :class="{ undone: version.undone }">
            <div class="row spread">
              <span>{{ version.label }}<span v-if="version.undone">, undone</span></span>
              <span class="faint">{{ version.by }}, {{ when(version.created) }}</span>
            </div>
            <p v-if="version.moved" class="soft">{{ version.moved }}</p>
            <div v-if="version.lines.length" class="row">
              <button
                type="button"
                class="link-button"
                :aria-expanded="opened === version.operation"
                @click="opened = opened === version.operation ? undefined : version.operation"
              >
                {{
                  opened === version.operation
                    ? 'Hide'
                    : `What changed: ${version.lines.map((line) => line.label).join(', ')}`
                }}
              </button>
              <button
                v-if="version.restorable && page.editable"
                type="button"
                class="link-button"
                :disabled="restore.isPending.value"
                @click="restore.mutate(version.operation)"
              >
                Bring back as before this
              </button>
            </div>
            <DiffLines v-if="opened === version.operation" :lines="version.lines" a="before" b="after" />
          </li>
        </ol>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.wait {
  padding: 24px;
}

.page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 0.85fr);
  height: 100%;
}

.content {
  padding: 16px 26px 32px;
  overflow: auto;
  background: var(--rog-sheet);
}

.content header {
  margin-bottom: 16px;
}

aside {
  padding: 8px 24px 32px;
  overflow: auto;
  border-left: 1px solid var(--rog-rule);
}

aside section {
  padding: 10px 0;
  border-bottom: 1px solid var(--rog-rule);
}

aside section:last-child {
  border: 0;
}

h2 {
  font-size: 15px;
  margin-bottom: 4px;
}

p {
  margin: 2px 0;
}

ol {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  padding: 6px 0;
}

li .row {
  gap: 2px 16px;
}

.undone > .row:first-child span:first-child {
  text-decoration: line-through;
}
</style>
