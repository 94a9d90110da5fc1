<script setup lang="ts">
/** A button with an icon instead of text; a tooltip shows its name and key. `isOn`: the state of a toggle. */
defineOptions({ inheritAttrs: false })
withDefaults(defineProps<{ icon: string; label: string; keyName?: string; isOn?: boolean }>(), {
  keyName: '',
  isOn: undefined,
})
</script>

<template>
  <Tip :text="keyName ? `${label} (${keyName})` : label"
    ><UButton :variant="isOn ? 'soft' : 'ghost'" :icon="icon" :aria-label="label" :aria-pressed="isOn" v-bind="$attrs"
  /></Tip>
</template>
