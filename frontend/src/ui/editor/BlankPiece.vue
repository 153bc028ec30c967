<script setup lang="ts">
import { nodeViewProps, NodeViewWrapper } from '@tiptap/vue-3'

defineProps(nodeViewProps)
</script>

<template>
  <NodeViewWrapper
    as="span"
    class="blank-piece"
    :class="{ chosen: selected }"
    role="img"
    :aria-label="`Blank ${node.attrs.blank}`"
  >
    {{ node.attrs.blank }}
  </NodeViewWrapper>
</template>

<style scoped>
.blank-piece {
  display: inline-block;
  min-width: 58px;
  padding: 0 6px;
  border-bottom: 1.5px solid var(--rog-ink);
  background: var(--rog-joined);
  font: 500 12px var(--rog-mono);
  text-align: center;
}

.chosen {
  outline: 2px solid var(--rog-focus);
}
</style>
