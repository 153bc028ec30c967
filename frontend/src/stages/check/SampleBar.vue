<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'

/** A sample of what nothing was said about: offered, gone through by two keys, and what it proves. */
const props = defineProps<{
  reading: number
  sample: Schemas['SampleOut'] | undefined
  drawn: boolean
  unflagged: number
  busy: boolean
}>()
const emit = defineEmits<{ start: [{ count?: number; bound?: number }]; say: [boolean]; go: [number]; drop: [] }>()
const bound = ref<number>()
const { data: size } = useQuery(
  computed(() => ({
    queryKey: ['sample-size', props.reading, bound.value],
    queryFn: () =>
      ok(
        client.GET('/api/readings/{reading_id}/sample/size', {
          params: { path: { reading_id: props.reading }, query: { bound: bound.value ?? 0 } },
        }),
      ),
    enabled: bound.value !== undefined,
    placeholderData: keepPreviousData,
  })),
)
const usual = computed(() => Math.min(20, props.unflagged))
const number = computed(() => (props.sample ? Math.min(props.sample.looked + 1, props.sample.drawn.length) : 0))
function setBound(event: Event): void {
  const typed = (event.target as HTMLInputElement).value.trim()
  bound.value = typed === '' || Number.isNaN(Number(typed)) ? undefined : Math.max(0, Math.round(Number(typed)))
}
</script>

<template>
  <section class="sample" aria-label="Proof by sample">
    <template v-if="!sample">
      <span>Nothing flagged is left. A sample says how much of the rest can still be wrong.</span>
      <ElButton size="small" :loading="busy" @click="emit('start', bound === undefined ? { count: usual } : { bound })">
        Look at {{ bound === undefined ? usual : (size?.count ?? '…') }} of {{ unflagged }} <kbd>s</kbd>
      </ElButton>
      <label class="soft"
        >so that at most
        <input
          class="bound"
          inputmode="numeric"
          aria-label="At most so many wrong"
          placeholder="–"
          @change="setBound"
        />
        can be wrong</label
      >
    </template>
    <template v-else>
      <strong aria-live="polite">{{ sample.words }}</strong>
      <span class="faint">seed {{ sample.seed }}</span>
      <span class="grow" />
      <template v-if="drawn && sample.next !== null">
        <span class="soft">{{ number }} of {{ sample.drawn.length }}</span>
        <ElButton size="small" :disabled="busy" @click="emit('say', true)">Right <kbd>+</kbd></ElButton>
        <ElButton size="small" :disabled="busy" @click="emit('say', false)">Wrong <kbd>-</kbd></ElButton>
      </template>
      <button v-else-if="sample.next" type="button" class="link-button" @click="emit('go', sample.next)">
        Go on with the sample
      </button>
      <button type="button" class="link-button faint" @click="emit('drop')">Drop it</button>
    </template>
  </section>
</template>

<style scoped>
.sample {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 6px 18px;
  background: var(--rog-key-ground);
  border-bottom: 1px solid var(--rog-rule);
}

.sample strong {
  font-weight: 500;
}

.grow {
  flex: 1;
}

.bound {
  width: 48px;
  padding: 2px 6px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}
</style>
