<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items, points, WORDS } from '@/ui/words'

const { mayEdit } = useRole(useCourse())

const props = defineProps<{ part: Schemas['PartOut']; course: number; first: boolean; last: boolean }>()
const emit = defineEmits<{ change: [Schemas['PartChange']]; move: [number]; remove: [] }>()

function setPick(value: number | undefined): void {
  if (value && value !== props.part.pick)
    emit('change', { pick: value, set_points: false, points_each: props.part.points_each })
}
function setPoints(value: number | undefined): void {
  emit('change', { points_each: value ?? null, set_points: true })
}
const percent = (share: number) => `${Math.round(share * 100)} %`
const short = (number: number) => Number(number.toFixed(1))
</script>

<template>
  <li class="part">
    <div class="row spread">
      <div v-if="part.kind === 'draw'" class="row what">
        <span>Draw</span>
        <ElInputNumber
          :model-value="part.pick"
          :min="1"
          :max="500"
          :controls="false"
          :disabled="!mayEdit"
          class="narrow"
          :aria-label="`How many from ${part.title}`"
          @change="(value: number | undefined) => setPick(value)"
        />
        <span>of {{ part.draw?.pool_size }} in</span>
        <RouterLink class="name" :to="{ name: 'pools', params: { course }, query: { pool: part.pool } }">{{
          part.title
        }}</RouterLink>
        <span>·</span>
        <ElInputNumber
          :model-value="part.points_each ?? undefined"
          :min="0"
          :controls="false"
          :disabled="!mayEdit"
          class="narrow"
          :aria-label="`Points each in ${part.title}`"
          placeholder="own"
          @change="(value: number | undefined) => setPoints(value)"
        />
        <span>points each</span>
      </div>
      <div v-else class="row what">
        <span v-if="part.title" class="name">{{ part.title }}</span>
        <span class="soft"> {{ items(part.items.length) }}, the same for everyone</span>
      </div>
      <span v-if="mayEdit" class="row tools">
        <button
          type="button"
          class="link-button"
          :disabled="first"
          :aria-label="`Move ${part.title} up`"
          @click="emit('move', -1)"
        >
          up
        </button>
        <button
          type="button"
          class="link-button"
          :disabled="last"
          :aria-label="`Move ${part.title} down`"
          @click="emit('move', 1)"
        >
          down
        </button>
        <button type="button" class="link-button" @click="emit('remove')">Take out</button>
      </span>
    </div>
    <p v-if="part.draw" class="soft exposure" :class="{ short: part.draw.pool_size < part.pick }">
      <template v-if="part.draw.pool_size < part.pick">The pool has only {{ part.draw.pool_size }} items.</template>
      <template v-else>
        Two students share {{ short(part.draw.overlap) }} of these {{ part.pick }} on average, {{ part.draw.worst }} at
        worst; {{ percent(part.draw.at_least_half) }} of pairs share {{ part.draw.half }} or more. For a quarter in
        common the pool needs {{ items(part.draw.needed_for_quarter) }}.
      </template>
    </p>
    <ol v-else class="fixed">
      <li v-for="item in part.items" :key="item.id">
        <RouterLink :to="{ name: 'pools', params: { course }, query: { item: item.id } }">{{
          item.text || 'no stem'
        }}</RouterLink>
        <span class="faint">{{ WORDS.types[item.type] }}, {{ points(item.points) }}</span>
      </li>
    </ol>
  </li>
</template>

<style scoped>
.part {
  padding: 12px 0;
  border-top: 1px solid var(--rog-rule);
}

.name {
  font: 600 16px var(--rog-serif);
}

.narrow {
  width: 56px;
}

.tools {
  font-size: 12.5px;
}

.tools button:disabled {
  color: var(--rog-ink-faint);
  text-decoration: none;
  cursor: default;
}

.exposure {
  margin: 6px 0 0;
  max-width: 72ch;
}

.short {
  color: var(--rog-signal);
}

.fixed {
  margin: 8px 0 0;
  padding-left: 22px;
}

.fixed li {
  padding: 3px 0;
}

.fixed a {
  font-family: var(--rog-serif);
  text-decoration: none;
  margin-right: 10px;
}
</style>
