<script setup lang="ts">
/**
 * A button with a picture in place of its name, which is told with its key on pointing. `isOn`: of one that stays
 * pressed, whether it is.
 */
withDefaults(defineProps<{ icon: string; label: string; keyName?: string; isOn?: boolean }>(), {
  keyName: '',
  isOn: undefined,
})
</script>

<template>
  <UButton
    :variant="isOn ? 'soft' : 'ghost'"
    :icon="icon"
    :aria-label="label"
    :title="keyName ? `${label} (${keyName})` : label"
    :aria-pressed="isOn"
  />
</template>
