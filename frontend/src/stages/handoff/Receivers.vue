<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { formatsQuery, receiversQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'

import SheetForm from './SheetForm.vue'
import type { Sheet } from './sentences'

/** The receivers that there are, each with its sheet as sentences; one's own can be written anew. */
const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { data: receivers } = useQuery(receiversQuery())
const { data: formats } = useQuery(formatsQuery())
const file = ref<HTMLInputElement>()
const open = computed(
  () => receivers.value?.find((receiver) => receiver.key === route.params.key) ?? receivers.value?.[0],
)
const go = (key?: string) => router.replace({ name: 'receivers', params: { course: course.value, key } })
async function known(receiver: Schemas['ReceiverOut'], words: string): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['receivers'] })
  void queries.invalidateQueries({ queryKey: ['course', course.value, 'forecast'] })
  await go(receiver.key)
  say(words)
}
const copy = useMutation({
  mutationFn: (receiver: Schemas['ReceiverOut']) =>
    ok(client.POST('/api/receivers', { body: { sheet: { ...receiver.sheet, title: `${receiver.title}, ours` } } })),
  onSuccess: (receiver) => known(receiver, 'This one is yours: write it as the place really is.'),
  onError: sayProblem,
})
const save = useMutation({
  mutationFn: ({ id, sheet }: { id: number; sheet: Sheet }) =>
    ok(client.PUT('/api/receivers/{receiver_id}', { params: { path: { receiver_id: id } }, body: { sheet } })),
  onSuccess: (receiver) => known(receiver, `${receiver.title}: edition ${receiver.version}.`),
  onError: sayProblem,
})
const forget = useMutation({
  mutationFn: (id: number) =>
    ok(client.DELETE('/api/receivers/{receiver_id}', { params: { path: { receiver_id: id } } })),
  onSuccess: async () => {
    await queries.invalidateQueries({ queryKey: ['receivers'] })
    await go()
    say('Forgotten. What was handed on to it stays.')
  },
  onError: sayProblem,
})
const bring = useMutation({
  mutationFn: (toml: string) => ok(client.POST('/api/receivers/of-toml', { body: { toml } })),
  onSuccess: (receiver) => known(receiver, `${receiver.title} is among your receivers.`),
  onError: sayProblem,
})
async function brought(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const [chosen] = field.files ?? []
  if (chosen) bring.mutate(await chosen.text())
  field.value = ''
}
const sure = ref(0)
</script>

<template>
  <div class="page">
    <nav class="list" aria-label="Receivers">
      <p class="back"><RouterLink :to="{ name: 'hand-off', params: { course } }">Hand on</RouterLink></p>
      <h1>Receivers</h1>
      <ul>
        <li v-for="receiver in receivers" :key="receiver.key" :class="{ here: receiver.key === open?.key }">
          <RouterLink :to="{ name: 'receivers', params: { course, key: receiver.key } }">{{
            receiver.title
          }}</RouterLink>
          <span v-if="receiver.id" class="faint">yours</span>
        </li>
      </ul>
      <button type="button" class="link-button" @click="file?.click()">Add one from a TOML file</button>
      <input ref="file" type="file" accept=".toml" hidden @change="brought" />
    </nav>
    <section v-if="open" :key="open.key + open.version" class="one" :aria-label="open.title">
      <div class="row spread">
        <div>
          <h2>{{ open.title }}</h2>
          <p class="soft">
            {{ open.kind }}, edition {{ open.version }}
            <template v-if="!open.id"> · comes with the program: copy it to write it otherwise</template>
          </p>
        </div>
        <div class="row tools">
          <a :href="`/api/receivers/${open.key}/toml`" download>Save as TOML</a>
          <ElButton :type="open.id ? 'default' : 'primary'" :loading="copy.isPending.value" @click="copy.mutate(open)"
            >Copy it</ElButton
          >
          <template v-if="open.id">
            <button v-if="sure !== open.id" type="button" class="link-button" @click="sure = open.id">Forget it</button>
            <button v-else type="button" class="link-button danger" @click="forget.mutate(open.id)">
              Forget it for good
            </button>
          </template>
        </div>
      </div>
      <SheetForm
        :sheet="open.sheet as Sheet"
        :formats="formats ?? []"
        :busy="save.isPending.value"
        :readonly="!open.id"
        @save="(sheet: Sheet) => open?.id && save.mutate({ id: open.id, sheet })"
        @cancel="queries.invalidateQueries({ queryKey: ['receivers'] })"
      />
    </section>
    <p v-else class="faint">Loading…</p>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 280px minmax(0, 860px);
  height: 100%;
  min-height: 0;
}

.list {
  padding: 16px 20px;
  border-right: 1px solid var(--rog-rule);
  overflow: auto;
}

.back {
  margin: 0;
  font-size: 13px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 10px 0 16px;
}

li {
  padding: 6px 8px;
  border-bottom: 1px solid var(--rog-rule);
}

li.here {
  background: var(--rog-joined);
}

li.here .faint {
  color: var(--rog-ink-soft);
}

li .faint {
  margin-left: 8px;
}

li a {
  font: 15px var(--rog-serif);
}

.one {
  overflow: auto;
  padding: 16px 26px 0;
}

.one p {
  margin: 2px 0 8px;
}

.tools {
  gap: 16px;
  flex: none;
}

.danger {
  color: var(--rog-signal);
}
</style>
