<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { client, ok } from '@/api/client'
import { vFocus } from '@/ui/focus'
import { useShortcuts } from '@/ui/shortcuts'

import NamesDialog from './NamesDialog.vue'
import SendDialog from './SendDialog.vue'
import { flat, type PoolNode, type Pools } from './usePools'

/** The pools as a tree: to pick one; to move them by dragging and by keys, to name them in place, to do something to several. */
const props = defineProps<{
  tree: PoolNode[]
  /** How many items of each pool match the filter, where one is set. */
  counted?: boolean
  current: number | undefined
  course: number
  mayEdit: boolean
  pools: Pools
}>()
const emit = defineEmits<{ pick: [number | undefined] }>()

const naming = ref<'new' | number>()
const name = ref('')
const removing = ref(false)
const several = ref(false)
const ticked = ref<number[]>([])
const into = ref<number>()
const merging = ref(false)
const renaming = ref(false)
const sending = ref(false)
const total = computed(() => props.tree.reduce((sum, node) => sum + node.total, 0))
const choices = computed(() => flat(props.tree))

interface Found {
  node: PoolNode
  level: PoolNode[]
  place: number
  parent: PoolNode | undefined
}

function find(id: number | undefined, level = props.tree, parent?: PoolNode): Found | undefined {
  for (const [place, node] of level.entries()) {
    const hit = node.id === id ? { node, level, place, parent } : find(id, node.children, node)
    if (hit) return hit
  }
  return undefined
}
const here = computed(() => find(props.current)?.node)
const chosen = computed(() => {
  const ids = several.value && ticked.value.length ? ticked.value : props.current ? [props.current] : []
  return ids.map((id) => ({ id, name: find(id)?.node.name ?? '' }))
})

function start(what: 'new' | number): void {
  if (!props.mayEdit) return
  naming.value = what
  name.value = what === 'new' ? '' : (find(what)?.node.name ?? '')
}
function named(): void {
  const text = name.value.trim()
  const what = naming.value
  naming.value = undefined
  if (!text || what === undefined) return
  if (what === 'new') props.pools.create.mutate({ name: text, parent: props.current ?? null })
  else if (text !== find(what)?.node.name) props.pools.change.mutate({ id: what, body: { name: text, move: false } })
}

function place(id: number, parent: number | null, before: number | null): void {
  props.pools.place.mutate({ id, parent, before })
}
/** Dropped before, behind or into another: the tree is drawn anew from what the server says. */
function dropped(dragged: { key: unknown }, target: { key: unknown }, where: string): void {
  const [id, on] = [Number(dragged.key), Number(target.key)]
  if (where === 'inner') return place(id, on, null)
  const there = find(on)
  const level = there?.level.filter((node) => node.id !== id) ?? []
  const at = level.findIndex((node) => node.id === on) + (where === 'after' ? 1 : 0)
  place(id, there?.parent?.id ?? null, level[at]?.id ?? null)
}
/** Moves the open pool among its neighbours, into the one above it, or out of the one that it lies in. */
function shift(by: 'up' | 'down' | 'in' | 'out'): void {
  const at = find(props.current)
  if (!at || !props.mayEdit || props.pools.place.isPending.value) return
  const { node, level, place: row, parent } = at
  if (by === 'up' && row > 0) place(node.id, parent?.id ?? null, level[row - 1]?.id ?? null)
  if (by === 'down' && row < level.length - 1) place(node.id, parent?.id ?? null, level[row + 2]?.id ?? null)
  if (by === 'in' && row > 0) place(node.id, level[row - 1]?.id ?? null, null)
  if (by === 'out' && parent) {
    const above = find(parent.id)
    place(node.id, above?.parent?.id ?? null, above?.level[above.place + 1]?.id ?? null)
  }
}

const { data: about } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'pool', props.current, 'about'],
    enabled: removing.value && Boolean(props.current),
    queryFn: () => ok(client.GET('/api/pools/{pool_id}/about', { params: { path: { pool_id: props.current ?? 0 } } })),
  })),
)
async function remove(): Promise<void> {
  if (!props.current) return
  removing.value = false
  await props.pools.remove.mutateAsync(props.current)
  emit('pick', undefined)
}
async function merge(): Promise<void> {
  if (!into.value) return
  await props.pools.merge.mutateAsync({ pools: ticked.value, into: into.value })
  merging.value = false
  several.value = false
  emit('pick', into.value)
}
watch(several, () => (ticked.value = []))
function tick(id: number, on: boolean): void {
  ticked.value = on ? [...ticked.value, id] : ticked.value.filter((other) => other !== id)
}
const group = 'Pools'
useShortcuts([
  { keys: 'F2', label: 'Name the open pool', group, run: () => props.current && start(props.current) },
  { keys: 'Ctrl+ArrowUp', label: 'Move the open pool up', group, run: () => shift('up') },
  { keys: 'Ctrl+ArrowDown', label: 'Move the open pool down', group, run: () => shift('down') },
  { keys: 'Ctrl+ArrowRight', label: 'Move the open pool into the one above', group, run: () => shift('in') },
  { keys: 'Ctrl+ArrowLeft', label: 'Move the open pool out', group, run: () => shift('out') },
])
</script>

<template>
  <nav class="tree" aria-label="Pools">
    <button
      type="button"
      class="plain-button all"
      :class="{ here: current === undefined }"
      @click="emit('pick', undefined)"
    >
      <span>All items</span><span class="faint">{{ total.toLocaleString('en') }}</span>
    </button>
    <ElTree
      :data="tree"
      node-key="id"
      :props="{ label: 'name', children: 'children' }"
      :current-node-key="current"
      highlight-current
      default-expand-all
      :expand-on-click-node="false"
      :draggable="mayEdit && naming === undefined"
      @node-click="(node: PoolNode) => emit('pick', node.id)"
      @node-drop="dropped"
    >
      <template #default="{ data }">
        <form v-if="naming === data.id" class="inline" @submit.prevent="named" @click.stop>
          <ElInput
            v-model="name"
            v-focus
            size="small"
            aria-label="Name of the pool"
            @keydown.esc.stop="naming = undefined"
            @keydown.stop
            @blur="named"
          />
        </form>
        <span v-else class="node" :title="data.name" @dblclick="start(data.id)">
          <input
            v-if="several"
            type="checkbox"
            :checked="ticked.includes(data.id)"
            :aria-label="`Choose ${data.name}`"
            @click.stop
            @change="tick(data.id, ($event.target as HTMLInputElement).checked)"
          />
          <span class="name">{{ data.name }}</span><span class="faint" :class="{ none: counted && !data.total }">{{
            data.total.toLocaleString('en')
          }}</span>
        </span>
      </template>
    </ElTree>
    <footer>
      <form v-if="naming === 'new'" @submit.prevent="named">
        <ElInput
          v-model="name"
          v-focus
          aria-label="Name of the pool"
          :placeholder="here ? `New pool in ${here.name}` : 'New pool'"
        />
        <div class="row">
          <ElButton size="small" type="primary" native-type="submit">Make the pool</ElButton>
          <button type="button" class="link-button" @click="naming = undefined">Cancel</button>
        </div>
      </form>
      <div v-else-if="several" class="row">
        <button type="button" class="link-button" :disabled="!ticked.length" @click="sending = true">
          Send a copy
        </button>
        <template v-if="mayEdit">
          <button type="button" class="link-button" :disabled="ticked.length < 2" @click="merging = true">Merge</button>
          <button type="button" class="link-button" :disabled="!ticked.length" @click="renaming = true">Name</button>
        </template>
        <button type="button" class="link-button" @click="several = false">Done</button>
      </div>
      <div v-else class="row">
        <button v-if="mayEdit" type="button" class="link-button" @click="start('new')">New pool</button>
        <button v-if="here" type="button" class="link-button" @click="sending = true">Send a copy</button>
        <ElDropdown trigger="click">
          <button type="button" class="link-button">More<span aria-hidden="true"> ▾</span></button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem v-if="here && mayEdit" @click="start(here.id)">Rename {{ here.name }}</ElDropdownItem>
              <ElDropdownItem v-if="here && mayEdit" @click="removing = true">Delete {{ here.name }}…</ElDropdownItem>
              <ElDropdownItem @click="several = true">Choose several pools</ElDropdownItem>
              <ElDropdownItem v-if="mayEdit" @click="pools.tidy.mutate()">Remove empty pools</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
      </div>
    </footer>
    <ElDialog v-model="removing" :title="`Delete ${here?.name}?`" width="460" append-to-body>
      <p v-if="about?.quizzes.length" class="signal">
        {{ about.quizzes.join(', ') }} {{ about.quizzes.length === 1 ? 'uses' : 'use' }} it. Take it out there first.
      </p>
      <p v-else>
        Its {{ here?.total }} items and all pools below it go with it. Undo brings them back; so does
        <em>Deleted</em> in the course, for 30 days.
      </p>
      <template #footer>
        <ElButton @click="removing = false">Keep it</ElButton>
        <ElButton type="primary" :disabled="!about || about.quizzes.length > 0" @click="remove">
          Delete the pool and {{ here?.total }} items
        </ElButton>
      </template>
    </ElDialog>
    <ElDialog v-model="merging" :title="`Merge ${ticked.length} pools`" width="440" append-to-body>
      <ElSelect v-model="into" placeholder="Into which of them" aria-label="Pool to merge into" style="width: 100%">
        <ElOption
          v-for="entry in choices.filter((choice) => ticked.includes(choice.id))"
          :key="entry.id"
          :value="entry.id"
          :label="entry.path"
        />
      </ElSelect>
      <p class="soft note">Items and sub-pools of the others move there; quizzes that draw from them draw from it.</p>
      <template #footer
        ><ElButton type="primary" :disabled="!into" @click="merge"
          >Merge {{ ticked.length }} pools into one</ElButton
        ></template
      >
    </ElDialog>
    <NamesDialog v-model="renaming" :course="course" :pools="ticked" />
    <SendDialog v-model="sending" :course="course" :pools="chosen" :may-edit="mayEdit" />
  </nav>
</template>

<style scoped>
.tree {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  padding: 10px 0 0;
  min-height: 0;
  min-width: 0;
}

.el-tree {
  overflow: auto;
}

.all {
  display: flex;
  justify-content: space-between;
  padding: 6px 12px 6px 24px;
}

.all.here {
  background: var(--rog-joined);
  font-weight: 600;
}

.all.here .faint,
.el-tree :deep(.is-current > .el-tree-node__content .faint) {
  color: var(--rog-ink-soft);
}

.node {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 8px;
  min-width: 0;
  padding-right: 12px;
}

.name {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
}

.none {
  opacity: 0.6;
}

.inline {
  flex: 1;
  padding-right: 10px;
}

footer {
  padding: 8px 14px;
  border-top: 1px solid var(--rog-rule);
}

footer form {
  display: grid;
  gap: 6px;
}

footer .row {
  gap: 4px 14px;
}

footer .el-dropdown {
  color: inherit;
}

.link-button:disabled {
  color: var(--rog-ink-faint);
  cursor: default;
}

.signal {
  color: var(--rog-signal);
}

.note {
  margin: 10px 0 0;
}
</style>
