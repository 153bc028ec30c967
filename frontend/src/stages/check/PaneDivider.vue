<script setup lang="ts">
/** The border between two panes, moved by the pointer or by the arrow keys; `share` is the left one's per cent. */
const share = defineModel<number>({ required: true })
const LEAST = 22
const MOST = 72
const set = (wanted: number) => (share.value = Math.round(Math.max(LEAST, Math.min(MOST, wanted)) * 10) / 10)

function drag(event: PointerEvent): void {
  const bar = event.currentTarget as HTMLElement
  const panes = bar.parentElement?.getBoundingClientRect()
  if (!panes) return
  bar.setPointerCapture(event.pointerId)
  bar.onpointermove = (moved) => set(((moved.clientX - panes.left) / panes.width) * 100)
  bar.onpointerup = () => (bar.onpointermove = null)
}
</script>

<template>
  <div
    class="divider"
    role="separator"
    aria-orientation="vertical"
    aria-label="Width of the source"
    tabindex="0"
    :aria-valuenow="share"
    :aria-valuemin="LEAST"
    :aria-valuemax="MOST"
    @pointerdown.prevent="drag"
    @keydown.left.prevent="set(share - 2)"
    @keydown.right.prevent="set(share + 2)"
  />
</template>

<style scoped>
.divider {
  width: 7px;
  margin-inline: -3px -4px;
  z-index: 2;
  cursor: col-resize;
  touch-action: none;
}

.divider:hover,
.divider:focus-visible {
  background: var(--rog-rule-strong);
}
</style>
