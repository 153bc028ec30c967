<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'

import DOMPurify from 'dompurify'

const model = defineModel<string>({ required: true })
defineProps<{ label: string }>()
const home = ref<HTMLElement>()

/** Formulas and blanks are kept whole; TeX typed between \( and \) becomes a formula when it is saved. */
function show(): void {
  if (!home.value || home.value.innerHTML === model.value) return
  const fragment = DOMPurify.sanitize(model.value, {
    RETURN_DOM_FRAGMENT: true,
    ADD_TAGS: ['semantics', 'annotation'],
    ADD_ATTR: ['encoding', 'data-blank'],
  })
  fragment
    .querySelectorAll('math, [data-blank], img')
    .forEach((element) => element.setAttribute('contenteditable', 'false'))
  home.value.replaceChildren(fragment)
}

function typed(): void {
  model.value = (home.value?.innerHTML ?? '').replaceAll(' contenteditable="false"', '')
}

/** A paste brings its words, not its looks. */
function pasted(event: ClipboardEvent): void {
  event.preventDefault()
  document.execCommand('insertText', false, event.clipboardData?.getData('text/plain') ?? '')
}

onMounted(show)
watch(model, (value) => {
  if (document.activeElement !== home.value && value !== home.value?.innerHTML) show()
})
</script>

<template>
  <div
    ref="home"
    class="field rich"
    contenteditable="true"
    role="textbox"
    aria-multiline="true"
    :aria-label="label"
    @input="typed"
    @paste="pasted"
  />
</template>

<style scoped>
.field {
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  padding: 4px 9px;
  min-height: 32px;
}
</style>
