<script setup lang="ts">
import type { Quiz, Settings } from './useQuiz'

/** What the settings of a quiz mean: in words, and what of them is worth a second look. */
defineProps<{ quiz: Quiz; mayEdit: boolean }>()
const emit = defineEmits<{ set: [Partial<Settings>] }>()
</script>

<template>
  <aside aria-label="What the settings mean">
    <h2>In words</h2>
    <div v-for="told in quiz.told" :key="told.matter" class="told">
      <h3>{{ told.matter }}</h3>
      <p>{{ told.sentences.join(' ') }}</p>
    </div>
    <h2 class="look">Worth a second look</h2>
    <p v-if="!quiz.doubts.length" class="soft">Nothing: no rule finds fault with these settings.</p>
    <ul v-else>
      <li v-for="doubt in quiz.doubts" :key="doubt.code + doubt.fact">
        <p>{{ doubt.fact }}</p>
        <p class="soft out">
          {{ doubt.way_out }}
          <button
            v-if="mayEdit && Object.keys(doubt.change).length"
            type="button"
            class="link-button"
            @click="emit('set', doubt.change as Partial<Settings>)"
          >
            Set it so
          </button>
        </p>
      </li>
    </ul>
  </aside>
</template>

<style scoped>
.told p {
  font: 15.5px/1.5 var(--rog-serif);
  margin: 0;
}

.told h3 {
  margin: 10px 0 0;
  font: 600 12.5px var(--rog-sans);
  color: var(--rog-ink-soft);
}

.look {
  margin-top: 26px;
}

ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}

ul li {
  padding: 8px 0 8px 12px;
  border-left: 3px solid var(--rog-signal);
  margin-bottom: 10px;
}

ul p {
  margin: 0;
}

.out {
  margin-top: 3px;
}
</style>
