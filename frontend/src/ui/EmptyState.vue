<script setup lang="ts">
defineProps<{ title: string }>()
</script>

<template>
  <div class="state">
    <h2>{{ title }}</h2>
    <div class="soft"><slot /></div>
  </div>
</template>

<style scoped>
.state {
  max-width: 560px;
  margin: 72px auto;
  padding: 0 24px;
}

h2 {
  margin-bottom: 8px;
}
</style>
