<script setup lang="ts">
import { nodeViewProps, NodeViewWrapper } from '@tiptap/vue-3'

import RichText from '../RichText.vue'

defineProps(nodeViewProps)
</script>

<template>
  <NodeViewWrapper
    :as="node.attrs.block ? 'div' : 'span'"
    class="kept"
    :class="{ chosen: selected }"
    title="Kept as it is"
  >
    <RichText :inline="!node.attrs.block" :content="node.attrs.html" />
  </NodeViewWrapper>
</template>

<style scoped>
.kept {
  border-bottom: 1px dotted var(--rog-rule-strong);
}

.chosen {
  outline: 2px solid var(--rog-focus);
}
</style>
