<script setup lang="ts">
import { nodeViewProps, NodeViewWrapper } from '@tiptap/vue-3'
import { nextTick, onMounted, ref } from 'vue'

import { useAsking } from '../asking'
import RichText from '../RichText.vue'

import { formulaOf } from './content'

const props = defineProps(nodeViewProps)
const typing = ref(false)
const tex = ref('')
const problem = ref('')
const field = ref<HTMLInputElement>()
let turn = 0

async function open(): Promise<void> {
  tex.value = props.node.attrs.tex
  typing.value = true
  await nextTick()
  field.value?.focus()
}

/** Sets the formula anew at each key; what cannot be set leaves the last that could. */
const { ask } = useAsking()
function typed(): void {
  const own = ++turn
  const wanted = tex.value.trim()
  ask(
    async () => (wanted ? formulaOf(wanted, Boolean(props.node.attrs.display)) : { mathml: '', problem: '' }),
    (made) => {
      if (own !== turn) return
      problem.value = made.problem
      if (made.mathml) props.updateAttributes({ tex: wanted, mathml: made.mathml })
    },
  )
}

function close(): void {
  typing.value = false
  problem.value = ''
  if (tex.value.trim()) props.editor.commands.focus((props.getPos() ?? 0) + 1)
  else props.deleteNode()
}

onMounted(() => {
  if (!props.node.attrs.mathml) void open()
})
</script>

<template>
  <NodeViewWrapper as="span" class="formula" :class="{ chosen: selected, typing }">
    <button
      v-if="!typing"
      type="button"
      class="set"
      :aria-label="`Formula ${node.attrs.tex || 'without TeX'}`"
      @click="open"
    >
      <RichText inline :content="node.attrs.mathml" />
    </button>
    <span v-else class="box">
      <input
        ref="field"
        v-model="tex"
        class="tex"
        aria-label="Formula as TeX"
        placeholder="\frac{m}{V}"
        spellcheck="false"
        @input="typed"
        @keydown.enter.prevent.stop="close"
        @keydown.escape.prevent.stop="close"
        @blur="close"
      />
      <span class="preview"><RichText v-if="node.attrs.mathml" inline :content="node.attrs.mathml" /></span>
      <span v-if="problem" class="problem" role="status">{{ problem }}</span>
    </span>
  </NodeViewWrapper>
</template>

<style scoped>
.set {
  appearance: none;
  border: 0;
  padding: 0 2px;
  background: none;
  color: inherit;
  font: inherit;
  cursor: pointer;
}

.set:hover,
.chosen .set {
  background: var(--rog-joined);
}

.box {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 2px 6px;
  background: var(--rog-joined);
}

.tex {
  width: 190px;
  padding: 2px 6px;
  font: 13px var(--rog-mono);
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.problem {
  flex-basis: 100%;
  font: 12px var(--rog-sans);
  color: var(--rog-signal);
}
</style>
