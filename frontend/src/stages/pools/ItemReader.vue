<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { itemQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import ItemView from '@/ui/ItemView.vue'
import LevelMark from '@/ui/LevelMark.vue'
import ConflictNotice from '@/ui/ConflictNotice.vue'
import { sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useConflict } from '@/ui/useConflict'

/** The editor comes with the first item that is edited. */
const ItemEditor = defineAsyncComponent(() => import('@/ui/item-editor/ItemEditor.vue'))

type AnyItem = Schemas['ItemOut']['item']

const props = defineProps<{ course: number; item: number; mayEdit: boolean }>()
const queries = useQueryClient()
const { data, error } = useQuery(computed(() => itemQuery(props.course, props.item)))
const router = useRouter()
const editing = ref(false)
const conflict = useConflict()
watch(
  () => props.item,
  () => (editing.value = false),
)

const save = useMutation({
  mutationFn: ({ item, version }: { item: AnyItem; version: string }) =>
    ok(client.PUT('/api/items/{item_id}', { params: { path: { item_id: props.item } }, body: { item, version } })),
  onSuccess: leave,
  onError: (error, { item }) => {
    if (!conflict.caught(error, (version) => save.mutate({ item, version }))) sayProblem(error)
  },
})
const editor = ref<{ forget: () => void }>()
async function leave(): Promise<void> {
  editor.value?.forget()
  editing.value = false
  conflict.settle()
  await queries.invalidateQueries({ queryKey: ['course', props.course] })
}
watch(editing, (now) => {
  if (!now) conflict.settle()
})
useShortcuts([
  { keys: 'e', label: 'Edit the item', group: 'Pools', run: () => (editing.value = props.mayEdit) },
  {
    keys: 'i',
    label: 'All that is known of the item',
    group: 'Pools',
    run: () => void router.push({ name: 'item', params: { course: props.course, item: props.item } }),
  },
  { keys: 'Escape', label: 'Leave the editor', group: 'Pools', run: () => (editing.value = false), inFields: true },
])
</script>

<template>
  <section class="reader" aria-label="Item" tabindex="0">
    <ErrorState v-if="error" :error="error" />
    <p v-else-if="!data" class="faint">Loading…</p>
    <template v-else>
      <header class="row spread">
        <span class="soft path">{{ data.path.join(' / ') }}</span>
        <span class="row">
          <RouterLink :to="{ name: 'item', params: { course, item } }">All about it <kbd>i</kbd></RouterLink>
          <button v-if="!editing && mayEdit" type="button" class="link-button" @click="editing = true">
            Edit <kbd>e</kbd>
          </button>
        </span>
      </header>
      <p v-for="finding in data.findings" :key="finding.code" class="finding">
        <LevelMark :level="finding.level" /> {{ finding.message }} <span class="soft">{{ finding.fix }}</span>
      </p>
      <ConflictNotice v-if="editing && conflict.clash.value" :clash="conflict.clash.value" @keep="leave">
        <template #there>
          <ItemView :item="conflict.clash.value.current.body as AnyItem" :stimulus="data.stimulus" />
        </template>
      </ConflictNotice>
      <ItemEditor
        v-if="editing"
        :key="data.id"
        ref="editor"
        :item="data.item"
        :saving="save.isPending.value"
        :draft-key="`item:${data.id}`"
        :version="data.version"
        @save="(item, _passage, version) => save.mutate({ item, version })"
        @cancel="editing = false"
      />
      <ItemView v-else :item="data.item" :stimulus="data.stimulus" />
      <footer>
        <p v-if="data.origin" class="faint">Came from {{ data.origin }}</p>
      </footer>
    </template>
  </section>
</template>

<style scoped>
.reader {
  overflow: auto;
  padding: 12px 20px 28px;
  height: 100%;
}

.path {
  font-size: 12.5px;
}

header {
  margin-bottom: 12px;
}

header .row {
  gap: 16px;
}

.finding {
  margin: 0 0 6px;
}

footer {
  margin-top: 24px;
  padding-top: 10px;
  border-top: 1px solid var(--rog-rule);
  font-size: 12.5px;
}
</style>
