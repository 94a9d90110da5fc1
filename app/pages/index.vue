<script setup lang="ts">
definePageMeta({ redirect: '/songs' })
</script>

<template>
  <div />
</template>
