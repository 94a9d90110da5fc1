<script setup lang="ts">
/** Asks before something is lost. Closes with whether it may be. */
defineProps<{ title: string; description: string; yes: string; no: string }>()
const emit = defineEmits<{ close: [isAllowed: boolean] }>()
</script>

<template>
  <UModal :title="title" :description="description" :close="false" :dismissible="false">
    <template #footer>
      <UButton autofocus variant="outline" @click="emit('close', false)">{{ no }}</UButton>
      <UButton color="neutral" variant="ghost" @click="emit('close', true)">{{ yes }}</UButton>
    </template>
  </UModal>
</template>
