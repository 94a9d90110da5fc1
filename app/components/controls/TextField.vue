<script setup lang="ts" generic="Value extends string | number | undefined">
/** A line, or a number, to type into. What else it is given goes to the field: `maxlength`, `type`, `min`. */
defineOptions({ inheritAttrs: false })
withDefaults(defineProps<{ label: string; layout?: 'above' | 'row' | 'unseen' }>(), { layout: 'above' })
const [value, modifiers] = defineModel<Value, 'lazy' | 'trim' | 'number'>()
</script>

<template>
  <UInput v-if="layout === 'unseen'" v-model="value" :model-modifiers="modifiers" :aria-label="label" v-bind="$attrs" />
  <UFormField v-else :label="label" :orientation="layout === 'row' ? 'horizontal' : 'vertical'">
    <UInput v-model="value" :model-modifiers="modifiers" v-bind="$attrs" />
  </UFormField>
</template>
