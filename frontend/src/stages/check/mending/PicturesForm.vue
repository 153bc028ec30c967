<script setup lang="ts">
import { ref } from 'vue'

import { uploadMedia } from '@/api/client'
import { sayProblem } from '@/ui/say'

import type { Wish } from './wishes'

/** Files for pictures that are missing: they are matched by name, and each is shown in its place before it is taken. */
const wish = defineModel<Wish | undefined>({ required: true })
const props = defineProps<{ course: number }>()
const over = ref(false)
const busy = ref(false)
const names = ref<string[]>([])

async function take(files: FileList | null | undefined): Promise<void> {
  over.value = false
  if (!files?.length) return
  busy.value = true
  try {
    const added = await uploadMedia(props.course, [...files])
    names.value = added.map(({ name }) => name)
    wish.value = { kind: 'pictures', files: Object.fromEntries(added.map(({ name, ref: address }) => [name, address])) }
  } catch (error) {
    sayProblem(error as Error)
  }
  busy.value = false
}
</script>

<template>
  <div
    class="drop"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="take($event.dataTransfer?.files)"
  >
    <span v-if="busy" class="faint">Looking at the files…</span>
    <span v-else>Drop the picture files here, or</span>
    <label class="link-button"
      >choose them<input
        class="visually-hidden"
        type="file"
        accept="image/*,audio/*,video/*"
        multiple
        aria-label="Picture files"
        @change="take(($event.target as HTMLInputElement).files)"
    /></label>
    <span v-if="names.length" class="soft">{{ names.join(', ') }}</span>
  </div>
</template>

<style scoped>
.drop {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  padding: 18px;
  border: 1.5px dashed var(--rog-rule-strong);
}

.over {
  background: var(--rog-joined);
}
</style>
