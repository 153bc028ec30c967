<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import RichInput from '@/ui/editor/RichInput.vue'
import { sayProblem } from '@/ui/say'

type AnyItem = Schemas['ReadingItemOut']['item']

/** An item written shorter for one receiver: its stem, and what students choose from, each with how much room is left. */
const props = defineProps<{ item: AnyItem; stemMost: number | null; choiceMost: number | null; busy: boolean }>()
const emit = defineEmits<{ save: [AnyItem] }>()
/** The choices of an item that has some. */
const own = (item: AnyItem) => ('choices' in item ? (item.choices ?? []) : [])
const stem = ref(props.item.stem ?? '')
const choices = ref(own(props.item).map((choice) => choice.content))

/** The characters of the stem and of each choice, as limits count them: the core does. */
const counted = ref<Schemas['LengthsOut']>()
const written = computed(
  () =>
    ({
      ...props.item,
      stem: stem.value,
      ...(choices.value.length
        ? { choices: own(props.item).map((choice, n) => ({ ...choice, content: choices.value[n] ?? choice.content })) }
        : {}),
    }) as AnyItem,
)
let last = 0
async function count(): Promise<void> {
  const mine = ++last
  const found = await ok(client.POST('/api/item-lengths', { body: { item: written.value } }))
  if (mine === last) counted.value = found
}
void count().catch(sayProblem)
watchDebounced(written, () => void count().catch(sayProblem), { debounce: 120 })
const over = (has: number | undefined, most: number | null) => (most === null || has === undefined ? 0 : has - most)
const ready = computed(
  () =>
    over(counted.value?.stem, props.stemMost) <= 0 &&
    (counted.value?.options ?? []).every((has) => over(has, props.choiceMost) <= 0),
)
const changed = computed(
  () => stem.value !== props.item.stem || own(props.item).some((choice, n) => choice.content !== choices.value[n]),
)
function words(has: number | undefined, most: number | null): string {
  if (has === undefined) return '…'
  if (most === null) return `${has} characters`
  return has > most ? `${has} of ${most}, ${has - most} too many` : `${has} of ${most}`
}
</script>

<template>
  <form class="shorten" @submit.prevent="emit('save', written)">
    <h3>Written for them</h3>
    <div class="field">
      <RichInput v-model="stem" label="Stem for this receiver" />
      <span class="count" :class="{ over: over(counted?.stem, stemMost) > 0 }" role="status">{{
        words(counted?.stem, stemMost)
      }}</span>
    </div>
    <div v-for="(_, n) in choices" :key="n" class="field">
      <RichInput v-model="choices[n]!" :label="`Choice ${String.fromCharCode(65 + n)} for this receiver`" />
      <span class="count" :class="{ over: over(counted?.options[n], choiceMost) > 0 }">{{
        words(counted?.options[n], choiceMost)
      }}</span>
    </div>
    <div class="row">
      <ElButton native-type="submit" :disabled="!changed" :loading="busy">Keep for this receiver</ElButton>
      <span v-if="!ready" class="soft">still too long</span>
    </div>
  </form>
</template>

<style scoped>
.shorten {
  margin-top: 12px;
  padding-top: 8px;
  border-top: 1px solid var(--rog-rule-strong);
}

h3 {
  font-size: 13.5px;
}

.field {
  margin: 6px 0;
}

.count {
  display: block;
  text-align: right;
  font-size: 12px;
  color: var(--rog-ink-soft);
  font-variant-numeric: tabular-nums;
}

.count.over {
  color: var(--rog-signal);
  font-weight: 700;
}

.row {
  gap: 12px;
}
</style>
