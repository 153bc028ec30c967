<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

const { mayEdit } = useRole(useCourse())

/** Advice on the writing of an item, quieter than what is said of its reading. */
defineProps<{ advice: Schemas['ReadFinding'][] }>()
const emit = defineEmits<{ dismiss: [Schemas['ReadFinding']]; off: [Schemas['ReadFinding']] }>()
</script>

<template>
  <details v-if="advice.some((entry) => !entry.dismissed)" class="advice" open>
    <summary>Advice on its writing</summary>
    <ul>
      <li v-for="entry in advice.filter((one) => !one.dismissed)" :key="entry.code + entry.message">
        <p>
          {{ entry.message }} <span class="soft">{{ entry.fix }}</span>
        </p>
        <span class="row">
          <button v-if="mayEdit" type="button" class="link-button" @click="emit('dismiss', entry)">
            It is right so
          </button>
          <button v-if="mayEdit" type="button" class="link-button faint" @click="emit('off', entry)">
            Put off this kind of advice
          </button>
        </span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.advice {
  margin-top: 14px;
  font-size: 13px;
  border-left: 3px dotted var(--rog-aside);
  padding-left: 12px;
}

summary {
  color: var(--rog-aside);
  font-weight: 500;
  cursor: pointer;
}

ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}

li {
  padding: 3px 0;
}

p {
  margin: 0;
}

.row {
  gap: 14px;
}
</style>
