<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { items } from '@/ui/words'

/** What would save something at a receiver: each repair with how many items it helps. */
defineProps<{ offers: Schemas['SavingOut'][]; busy: boolean }>()
const emit = defineEmits<{ repair: [string, 'receiver' | 'pool']; write: [Schemas['SavingOut']] }>()
</script>

<template>
  <section v-if="offers.length" class="offers" aria-label="What would save something">
    <div v-for="offer in offers" :key="offer.name" class="offer">
      <span
        ><strong>{{ offer.label }}</strong> <span class="soft">{{ items(offer.items.length) }}</span></span
      >
      <button v-if="offer.by_hand" type="button" class="link-button" @click="emit('write', offer)">
        Write the first
      </button>
      <template v-else>
        <button type="button" class="link-button" :disabled="busy" @click="emit('repair', offer.name, 'receiver')">
          All, for this receiver
        </button>
        <button type="button" class="link-button" :disabled="busy" @click="emit('repair', offer.name, 'pool')">
          All, in the pool
        </button>
      </template>
    </div>
  </section>
</template>

<style scoped>
.offers {
  margin: 4px 20px 6px;
  border-left: 3px solid var(--rog-signal);
  background: var(--rog-sheet);
  padding: 4px 12px;
}

.offer {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  padding: 3px 0;
}

.offer > span {
  min-width: 330px;
}
</style>
