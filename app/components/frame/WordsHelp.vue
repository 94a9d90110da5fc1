<script setup lang="ts">
import { GLOSSARY } from '#core/words/glossary'
</script>

<template>
  <dl class="words">
    <div v-for="(meaning, word) in GLOSSARY" :key="word">
      <dt>{{ word }}</dt>
      <dd>{{ meaning }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.words {
  display: grid;
  gap: var(--step);
}
dt {
  font-weight: 700;
}
dd {
  color: var(--ink-soft);
  max-width: 64ch;
}
</style>
