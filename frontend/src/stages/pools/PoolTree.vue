<script setup lang="ts">
import { computed, ref } from 'vue'

import type { PoolNode } from './usePools'

const props = defineProps<{ tree: PoolNode[]; current: number | undefined }>()
const emit = defineEmits<{
  pick: [number | undefined]
  create: [string, number | undefined]
  rename: [number, string]
  remove: [number]
}>()
const naming = ref<'new' | 'rename'>()
const name = ref('')
const removing = ref(false)
const total = computed(() => props.tree.reduce((sum, node) => sum + node.total, 0))

function find(nodes: PoolNode[], id: number | undefined): PoolNode | undefined {
  for (const node of nodes) {
    const hit = node.id === id ? node : find(node.children, id)
    if (hit) return hit
  }
  return undefined
}
const here = computed(() => find(props.tree, props.current))

function start(what: 'new' | 'rename'): void {
  naming.value = what
  name.value = what === 'rename' ? (here.value?.name ?? '') : ''
}

function named(): void {
  const text = name.value.trim()
  if (text && naming.value === 'new') emit('create', text, props.current)
  if (text && naming.value === 'rename' && here.value) emit('rename', here.value.id, text)
  naming.value = undefined
}
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
      @node-click="(node: PoolNode) => emit('pick', node.id)"
    >
      <template #default="{ data }">
        <span class="node" :title="data.name">
          <span class="name">{{ data.name }}</span><span class="faint">{{ data.total.toLocaleString('en') }}</span>
        </span>
      </template>
    </ElTree>
    <footer>
      <form v-if="naming" @submit.prevent="named">
        <ElInput
          v-model="name"
          autofocus
          aria-label="Name of the pool"
          :placeholder="here ? `New pool in ${here.name}` : 'New pool'"
        />
        <div class="row">
          <ElButton size="small" type="primary" native-type="submit">{{
            naming === 'new' ? 'Make the pool' : 'Rename the pool'
          }}</ElButton>
          <button type="button" class="link-button" @click="naming = undefined">Cancel</button>
        </div>
      </form>
      <div v-else class="row">
        <button type="button" class="link-button" @click="start('new')">New pool</button>
        <template v-if="here">
          <button type="button" class="link-button" @click="start('rename')">Rename</button>
          <button type="button" class="link-button" @click="removing = true">Delete</button>
        </template>
      </div>
    </footer>
    <ElDialog v-model="removing" :title="`Delete ${here?.name}?`" width="440" append-to-body>
      <p>Its {{ here?.total }} items and all pools below it go with it. Undo brings them back.</p>
      <template #footer>
        <ElButton @click="removing = false">Keep it</ElButton>
        <ElButton
          type="primary"
          @click="
            () => {
              removing = false
              if (here) emit('remove', here.id)
            }
          "
        >
          Delete the pool and {{ here?.total }} items
        </ElButton>
      </template>
    </ElDialog>
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

.node {
  display: flex;
  flex: 1;
  justify-content: space-between;
  gap: 8px;
  min-width: 0;
  padding-right: 12px;
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
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
  gap: 14px;
}
</style>
