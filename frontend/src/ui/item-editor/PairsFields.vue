<script setup lang="ts">
import { computed } from 'vue'

import { client, ok } from '@/api/client'

import RichInput from '../editor/RichInput.vue'
import { useAsking } from '../asking'

import PartTools from './PartTools.vue'
import { moved, type MatchingItem } from './types'
import WeightField from './WeightField.vue'

/** Pairs with what each earns, rights that have no partner, and whether the order is mixed. */
const item = defineModel<MatchingItem>({ required: true })
const pairs = computed(() => item.value.pairs ?? [])
const extra = computed(() => item.value.distractors ?? [])
const own = computed(() => pairs.value.some((pair) => pair.share != null))

/** Shares of their own, at first even ones; or none, which is even. */
const { ask, refused } = useAsking()
function setShares(event: Event): void {
  const wanted = (event.target as HTMLInputElement).checked
  ask(
    () => ok(client.POST('/api/item-shares', { body: { item: item.value, own: wanted } })),
    ({ item: made }) => 'pairs' in made && takeShares(made.pairs ?? []),
  )
}
function takeShares(made: { share?: number | null }[]): void {
  pairs.value.forEach((pair, index) => {
    if (made[index]?.share == null) delete pair.share
    else pair.share = made[index].share
  })
}
function setOrder(event: Event): void {
  const said = (event.target as HTMLSelectElement).value
  item.value.shuffle = said === '' ? null : said === 'true'
}
</script>

<template>
  <span class="caption">Pairs</span>
  <div v-for="(pair, index) in pairs" :key="index" class="pair">
    <RichInput v-model="pair.left" :label="`Left ${index + 1}`" />
    <RichInput v-model="pair.right" :label="`Right ${index + 1}`" />
    <WeightField
      v-if="own"
      :model-value="pair.share ?? 0"
      :label="`What pair ${index + 1} earns`"
      @update:model-value="pair.share = $event"
    />
    <span v-else />
    <PartTools
      :name="`pair ${index + 1}`"
      :index="index"
      :count="pairs.length"
      movable
      @move="moved(pairs, index, $event)"
      @remove="pairs.splice(index, 1)"
    />
  </div>
  <div class="row">
    <button type="button" class="link-button" @click="item.pairs = [...pairs, { left: '', right: '' }]">
      Add a pair
    </button>
    <label
      ><input :key="refused" type="checkbox" :checked="own" @change="setShares" /> each pair earns its own share</label
    >
    <label
      >Order
      <select
        :value="item.shuffle == null ? '' : String(item.shuffle)"
        aria-label="Order of the pairs"
        @change="setOrder"
      >
        <option value="">as the quiz says</option>
        <option value="true">shuffled</option>
        <option value="false">always as here</option>
      </select></label
    >
  </div>
  <span class="caption">Rights without a partner</span>
  <div v-for="(_, index) in extra" :key="`x${index}`" class="extra">
    <RichInput v-model="extra[index]!" :label="`Right without a partner ${index + 1}`" />
    <PartTools
      :name="`right without a partner ${index + 1}`"
      :index="index"
      :count="extra.length"
      @remove="extra.splice(index, 1)"
    />
  </div>
  <button type="button" class="link-button add" @click="item.distractors = [...extra, '']">
    Add a right without a partner
  </button>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: start;
}

.extra {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
}

.add {
  justify-self: start;
}

.row {
  gap: 18px;
}
</style>
