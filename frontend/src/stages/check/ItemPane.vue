<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'

import type { Schemas } from '@/api/client'
import ConflictNotice from '@/ui/ConflictNotice.vue'
import ItemView from '@/ui/ItemView.vue'
import type { Clash } from '@/ui/useConflict'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import AdvicePanel from './AdvicePanel.vue'
import DecisionBar from './DecisionBar.vue'
import FindingsPanel from './FindingsPanel.vue'
import type { Decision, Passage } from './useReading'

const { mayEdit } = useRole(useCourse())

/** The editor comes with the first item that is edited. */
const ItemEditor = defineAsyncComponent(() => import('@/ui/item-editor/ItemEditor.vue'))

type AnyItem = Schemas['ReadingItemOut']['item']
type Finding = Schemas['ReadFinding']

/** The item as it was read: what is said of it, its decisions of one key, its editor. */
const editing = defineModel<boolean>('editing', { required: true })
const props = defineProps<{
  reading: Schemas['ReadingOut']
  current: Schemas['ReadingItemOut']
  outcomes: Schemas['Outcome'][]
  place: string
  busy: boolean
  saving: boolean
  clash: Clash | undefined
}>()
const emit = defineEmits<{
  drop: []
  repair: [Finding, string, boolean]
  other: [Finding, boolean]
  dismiss: [Finding, boolean]
  off: [Finding]
  decide: [Decision]
  save: [AnyItem, Passage | undefined, string]
  keep: []
  field: [string]
}>()
const editor = ref<{ forget: () => void }>()
const countOf = (code: string) => props.reading.cells.filter((cell) => !cell.taken && cell.codes.includes(code)).length
const alike = (kind: string) => props.reading.others.find((entry) => entry.kind === kind)?.count ?? 0
const draftKey = computed(() => `reading:${props.reading.id}:${props.current.position}`)
defineExpose({ forget: () => editor.value?.forget() })
</script>

<template>
  <header class="row spread where">
    <span class="soft">{{ place }}</span>
    <span class="row">
      <span v-if="current.taken" class="faint">taken</span>
      <template v-else>
        <span v-if="current.dropped" class="signal">left out</span>
        <span v-if="current.edited" class="faint">edited</span>
        <button v-if="mayEdit" type="button" class="link-button" @click="emit('drop')">
          {{ current.dropped ? 'Let it in' : 'Leave it out' }} <kbd>x</kbd>
        </button>
        <button v-if="!editing && mayEdit" type="button" class="link-button" @click="editing = true">
          Edit <kbd>e</kbd>
        </button>
      </template>
    </span>
  </header>
  <FindingsPanel
    :findings="current.findings"
    :count-of="countOf"
    :alike="alike"
    :busy="busy"
    @repair="(finding, way, all) => emit('repair', finding, way, all)"
    @other="(finding, all) => emit('other', finding, all)"
    @dismiss="(finding, all) => emit('dismiss', finding, all)"
  />
  <ConflictNotice v-if="editing && clash" :clash="clash" @keep="emit('keep')">
    <template #there>
      <ItemView :item="clash.current.body as AnyItem" :stimulus="current.stimulus" />
    </template>
  </ConflictNotice>
  <ItemEditor
    v-if="editing"
    ref="editor"
    :key="draftKey"
    :item="current.item"
    :saving="saving"
    :draft-key="draftKey"
    :version="current.version"
    :passages="reading.passages"
    @save="(item, passage, version) => emit('save', item, passage, version)"
    @cancel="editing = false"
  />
  <template v-else>
    <ItemView
      :item="current.item"
      :stimulus="current.stimulus"
      :settable="!current.taken"
      @key="emit('decide', { kind: 'key', choice: $event })"
      @field="emit('field', $event)"
    />
    <DecisionBar
      :item="current"
      :outcomes="outcomes"
      :disabled="Boolean(current.taken)"
      @decide="emit('decide', $event)"
    />
    <AdvicePanel :advice="current.advice" @dismiss="emit('dismiss', $event, false)" @off="emit('off', $event)" />
  </template>
  <p v-if="current.path.length" class="faint pool">Pool: {{ current.path.join(' / ') }}</p>
</template>

<style scoped>
.where {
  margin-bottom: 10px;
  font-size: 13px;
}

.signal {
  color: var(--rog-signal);
  font-weight: 500;
}

.pool {
  margin-top: 14px;
  font-size: 12.5px;
}
</style>
