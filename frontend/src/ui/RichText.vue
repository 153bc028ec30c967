<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'

import { contentNodes } from './richContent'
import { useCourse } from './useCourse'

const props = withDefaults(defineProps<{ content: string | null | undefined; inline?: boolean }>(), { inline: false })
const course = useCourse()
const home = ref<HTMLElement>()

function show(): void {
  home.value?.replaceChildren(contentNodes(props.content ?? '', course.value))
}
onMounted(show)
watch(() => props.content, show)
</script>

<template>
  <component :is="inline ? 'span' : 'div'" ref="home" class="rich" />
</template>

<style>
.rich {
  font-family: var(--rog-serif);
  font-size: 16px;
  line-height: 1.5;
  overflow-wrap: anywhere;
}

.rich > :first-child {
  margin-top: 0;
}

.rich > :last-child {
  margin-bottom: 0;
}

.rich img {
  max-width: 100%;
  max-height: 320px;
  vertical-align: middle;
  background: #fff;
  border: 1px solid var(--rog-rule);
}

.rich table {
  margin: 8px 0;
  font-size: 14.5px;
}

.rich th,
.rich td {
  border-top: 1px solid var(--rog-rule-strong);
  border-bottom: 1px solid var(--rog-rule-strong);
  padding: 3px 12px;
  text-align: left;
}

.rich pre,
.rich code {
  font-family: var(--rog-mono);
  font-size: 0.88em;
}

.rich .blank {
  display: inline-block;
  min-width: 74px;
  border-bottom: 1.5px solid var(--rog-ink);
}

.rich .missing-media {
  font: 13px var(--rog-sans);
  color: var(--rog-signal);
  border: 1px dashed var(--rog-signal);
  padding: 1px 6px;
}
</style>
