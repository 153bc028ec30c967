<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, ok, Problem } from '@/api/client'

import { say } from './say'

const shown = defineModel<boolean>({ required: true })
const old = ref('')
const fresh = ref('')
const again = ref('')
const form = ref<HTMLFormElement>()
const first = ref<HTMLInputElement>()
const SHORTEST = 12
const ready = computed(() => old.value && fresh.value.length >= SHORTEST && fresh.value === again.value)

const change = useMutation({
  mutationFn: () => ok(client.PUT('/api/session/password', { body: { old: old.value, new: fresh.value } })),
  onSuccess: () => {
    say('The password was changed. Other devices were signed out.')
    shown.value = false
  },
})

/** The dialog takes its time to open: who is typing in one of its fields by then is left there. */
function begin(): void {
  if (!form.value?.contains(document.activeElement)) first.value?.focus()
}
const problem = computed(() => (change.error.value instanceof Problem ? change.error.value : undefined))
</script>

<template>
  <ElDialog v-model="shown" title="Change the password" width="420px" @opened="begin">
    <form id="password" ref="form" class="fields" @submit.prevent="ready && change.mutate()">
      <label for="old">Password until now</label>
      <input id="old" ref="first" v-model="old" type="password" autocomplete="current-password" />
      <label for="fresh">New password, {{ SHORTEST }} characters or more</label>
      <input id="fresh" v-model="fresh" type="password" autocomplete="new-password" />
      <label for="again">The new one again</label>
      <input id="again" v-model="again" type="password" autocomplete="new-password" />
      <p v-if="again && again !== fresh" class="signal">The two new ones differ.</p>
      <p v-if="problem" class="signal" role="alert">{{ problem.fact }} {{ problem.wayOut }}</p>
      <p class="faint">Everybody who is signed in with the old one, on whatever device, is signed out.</p>
    </form>
    <template #footer>
      <ElButton @click="shown = false">Leave it</ElButton>
      <ElButton
        type="primary"
        native-type="submit"
        form="password"
        :disabled="!ready"
        :loading="change.isPending.value"
      >
        Change the password
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 6px;
}

label {
  color: var(--rog-ink-soft);
  margin-top: 6px;
}

input {
  font: inherit;
  color: inherit;
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  padding: 5px 10px;
}

p {
  margin: 4px 0 0;
}
</style>
