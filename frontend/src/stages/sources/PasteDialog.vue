<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'

import { client, ok } from '@/api/client'
import { sayProblem } from '@/ui/say'

import type { Roles } from './lineRoles'
import TextWithRoles from './TextWithRoles.vue'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number }>()
const emit = defineEmits<{ done: [] }>()
const text = ref('')
const roles = ref<Roles>({})
const html = ref('')
const keepFormatting = ref(true)
const name = ref('')
const expected = ref('')

const send = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/sources/paste', {
        params: { path: { course_id: props.course } },
        body: {
          text: text.value,
          html: keepFormatting.value ? html.value : '',
          roles: roles.value,
          name: name.value,
          expected: expected.value ? Number(expected.value) : null,
        },
      }),
    ),
  onSuccess: () => {
    open.value = false
    text.value = html.value = name.value = expected.value = ''
    roles.value = {}
    emit('done')
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" title="Paste a test" width="880" append-to-body>
    <p class="soft">
      Numbered questions with lettered choices. The key may be an asterisk before a choice, a line “Answer: B”, or a
      list at the end.
    </p>
    <TextWithRoles
      v-model="text"
      v-model:roles="roles"
      :course="course"
      label="Text of the test"
      height="340px"
      placeholder="1. Which particle is the smallest?&#10;a. sand&#10;b. silt&#10;*c. clay"
      @formatted="html = $event"
    />
    <p v-if="html" class="formatted">
      <label>
        <input v-model="keepFormatting" type="checkbox" />
        Read it with the bold type, colours, lists and tables that it was copied with
      </label>
    </p>
    <div class="row fields">
      <label>Name <ElInput v-model="name" placeholder="Pasted text" /></label>
      <label>Items it should have <ElInput v-model="expected" class="expected" inputmode="numeric" /></label>
    </div>
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton type="primary" :disabled="!text.trim()" :loading="send.isPending.value" @click="send.mutate()">
        Read the text
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.formatted {
  margin: 8px 0 0;
}

.fields {
  margin-top: 12px;
  gap: 24px;
}

label {
  display: flex;
  align-items: center;
  gap: 8px;
  white-space: nowrap;
}

.expected {
  width: 70px;
}
</style>
