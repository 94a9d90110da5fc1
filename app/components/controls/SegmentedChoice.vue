<script setup lang="ts" generic="Value extends string | number">
/**
 * A few choices side by side, one of them on. Where there is little room a choice gives its sign or its short name
 * instead of its name, which is still read out.
 */
export interface Segment<Value> {
  value: Value
  label: string
  short?: string
  icon?: string
  class?: string
}
defineProps<{ label: string; choices: readonly Segment<Value>[]; isLabelSeen?: boolean }>()
const chosen = defineModel<Value>({ required: true })
const choose = (value: unknown) => {
  chosen.value = value as Value
}
</script>

<template>
  <URadioGroup
    :model-value="chosen as never"
    :items="[...choices]"
    :legend="label"
    class="segments"
    orientation="horizontal"
    variant="table"
    indicator="hidden"
    @update:model-value="choose"
    :ui="{ legend: isLabelSeen ? '' : 'sr-only', item: 'segment' }"
  >
    <template #label="{ item }">
      <UIcon v-if="item.icon" :name="item.icon" class="short" aria-hidden="true" />
      <span v-else-if="item.short" class="short" aria-hidden="true">{{ item.short }}</span>
      <span :class="{ long: item.icon || item.short }">{{ item.label }}</span>
    </template>
  </URadioGroup>
</template>

<style scoped>
.segments :deep(.segment) {
  position: relative;
  --on: var(--segment, var(--ink));
  display: flex;
  align-items: center;
  justify-content: center;
  gap: 0;
  min-width: 2.75rem;
  padding: 0 0.9rem;
  border-color: var(--rule);
  background: var(--tread);
  cursor: pointer;
}
.segments :deep(.segment:has([data-state='checked'])) {
  border-color: var(--on);
  background: var(--on);
  color: var(--sheet);
}
.segments :deep(.segment:has([data-state='checked']) [data-slot='label']) {
  color: inherit;
  font-weight: 700;
}
.segments :deep(.segment:has(:focus-visible)) {
  outline: 3px solid var(--together);
  outline-offset: 2px;
  z-index: 1;
}
.segments :deep([data-slot='base']) {
  /* The radio itself, unseen, is what is touched: as large as its segment. */
  position: absolute;
  inset: calc(-1 * var(--segment-line, 1px)) -1px -1px;
  width: auto;
  height: auto;
  margin: 0;
  clip-path: none;
  opacity: 0;
  cursor: pointer;
}
.short {
  display: none;
}
@media (max-width: 60rem) {
  .segments :deep(.segment) {
    padding: 0 0.6rem;
  }
  .short {
    display: inline-block;
  }
  .long {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
}
</style>
