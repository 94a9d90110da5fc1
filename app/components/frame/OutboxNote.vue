<script setup lang="ts">
const outbox = useOutboxStore()
onMounted(() => outbox.send())
</script>

<template>
  <span
    class="note"
    role="status"
  >
    <template v-if="outbox.refused">{{ outbox.refused }} {{ outbox.refused === 1 ? 'pass' : 'passes' }} could not be saved: {{ outbox.lastError }}</template>
    <template v-else-if="outbox.stuck">{{ outbox.waiting }} {{ outbox.waiting === 1 ? 'pass' : 'passes' }} waiting to be saved</template>
  </span>
</template>

<style scoped>
.note { color: var(--heard-missed); font-size: 0.95rem; }
</style>
