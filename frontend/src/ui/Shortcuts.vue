<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'

import { activeShortcuts, handleKey, useShortcuts } from './shortcuts'

const open = ref(false)
useEventListener(document, 'keydown', (event) => handleKey(event))
useShortcuts([{ keys: '?', label: 'Show the keys', group: 'Everywhere', run: () => (open.value = true) }])

const groups = computed(() => {
  const found = new Map<string, ReturnType<typeof activeShortcuts>>()
  const told = activeShortcuts().filter((shortcut) => shortcut.label)
  for (const shortcut of told) found.set(shortcut.group, [...(found.get(shortcut.group) ?? []), shortcut])
  return [...found]
})
</script>

<template>
  <ElDialog v-model="open" title="Keys" width="640">
    <div class="groups">
      <section v-for="[group, shortcuts] in groups" :key="group">
        <h3>{{ group }}</h3>
        <dl>
          <div v-for="shortcut in shortcuts" :key="shortcut.keys">
            <dt>
              <template v-for="(key, index) in shortcut.keys.split(' ')" :key="index"
                ><kbd>{{ key }}</kbd
                >&nbsp;</template
              >
            </dt>
            <dd>{{ shortcut.label }}</dd>
          </div>
        </dl>
      </section>
    </div>
  </ElDialog>
</template>

<style scoped>
.groups {
  columns: 2;
  column-gap: 32px;
}

section {
  break-inside: avoid;
  margin-bottom: 18px;
}

dl {
  margin: 6px 0 0;
}

dl div {
  display: flex;
  gap: 10px;
  padding: 3px 0;
}

dt {
  min-width: 74px;
}

dd {
  margin: 0;
}
</style>
