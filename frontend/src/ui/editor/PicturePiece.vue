<script setup lang="ts">
import { nodeViewProps, NodeViewWrapper } from '@tiptap/vue-3'
import { computed, nextTick, onMounted, ref } from 'vue'

import { uploadMedia } from '@/api/client'

import { useAsking } from '../asking'
import { useCourse } from '../useCourse'

import { addressOf } from '../richContent'

const props = defineProps(nodeViewProps)
const course = useCourse()
const asking = ref(false)
const field = ref<HTMLInputElement>()
const chooser = ref<HTMLInputElement>()
const address = computed(() => addressOf(props.node.attrs.src, course.value))
const missing = computed(() => String(props.node.attrs.title ?? '').replace(/^Missing: /, '') || 'a picture')
const decorative = computed(() => props.node.attrs.alt === '')
const told = computed(() => (decorative.value ? 'decorative' : props.node.attrs.alt || 'no words for it yet'))

async function askForWords(): Promise<void> {
  asking.value = true
  await nextTick()
  field.value?.focus()
}
function done(): void {
  asking.value = false
  props.editor.commands.focus((props.getPos() ?? 0) + 1)
}
const { ask } = useAsking()
function put(event: Event): void {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  ask(
    () => uploadMedia(course.value, [file]),
    ([added]) => added && props.updateAttributes({ src: added.ref, title: null }),
  )
}
// A picture that was just put in has no alternative text: it is asked for at once.
onMounted(() => {
  if (address.value && props.node.attrs.alt === null) void askForWords()
})
</script>

<template>
  <NodeViewWrapper as="span" class="picture" :class="{ chosen: selected }">
    <img v-if="address" :src="address" :alt="node.attrs.alt ?? ''" data-drag-handle />
    <span v-else class="missing">
      Picture missing: {{ missing }}
      <button type="button" class="link-button" @click="chooser?.click()">Choose a file</button>
      <input
        ref="chooser"
        class="visually-hidden"
        type="file"
        accept="image/*"
        tabindex="-1"
        aria-label="Picture"
        @change="put"
      />
    </span>
    <span v-if="asking" class="asking">
      <label
        >What it shows
        <input
          ref="field"
          :value="node.attrs.alt ?? ''"
          :disabled="decorative"
          aria-label="Alternative text"
          @input="updateAttributes({ alt: ($event.target as HTMLInputElement).value || null })"
          @keydown.enter.prevent.stop="done"
          @keydown.escape.prevent.stop="done"
      /></label>
      <label
        ><input
          type="checkbox"
          :checked="decorative"
          @change="updateAttributes({ alt: ($event.target as HTMLInputElement).checked ? '' : null })"
        />
        decorative</label
      >
      <button type="button" class="link-button" @click="done">Done</button>
    </span>
    <button v-else-if="address" type="button" class="link-button told" @click="askForWords">{{ told }}</button>
  </NodeViewWrapper>
</template>

<style scoped>
.picture {
  display: inline-block;
  max-width: 100%;
  vertical-align: middle;
}

img {
  max-width: 100%;
  max-height: 220px;
  background: #fff;
  border: 1px solid var(--rog-rule);
}

.chosen img {
  outline: 2px solid var(--rog-focus);
}

.missing,
.asking,
.told {
  font: 12.5px var(--rog-sans);
}

.missing {
  padding: 1px 6px;
  color: var(--rog-signal);
  border: 1px dashed var(--rog-signal);
}

.asking {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 4px 6px;
  background: var(--rog-joined);
}

.asking input:not([type='checkbox']) {
  width: 210px;
  padding: 2px 6px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.told {
  display: block;
  color: var(--rog-ink-soft);
}
</style>
