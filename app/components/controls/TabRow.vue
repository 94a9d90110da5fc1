<script setup lang="ts" generic="Value extends string">
/** A row of tabs over one panel; the panel's id is `panel`, its label the chosen tab. */
const props = defineProps<{
  tabs: readonly { value: Value; label: string; icon?: string }[]
  label: string
  panel: string
}>()
const chosen = defineModel<Value>({ required: true })

/** Arrow keys go from tab to tab, as in any row of tabs (WAI-ARIA practices). */
function step(event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (by === undefined) return
  event.preventDefault()
  event.stopPropagation()
  const place = props.tabs.findIndex(tab => tab.value === chosen.value)
  chosen.value = props.tabs[(place + by + props.tabs.length) % props.tabs.length]!.value
  void nextTick(() => document.getElementById(`${props.panel}-${chosen.value}`)?.focus())
}
</script>

<template>
  <div class="tabs" role="tablist" :aria-label="label" @keydown="step">
    <button
      v-for="tab in tabs"
      :id="`${panel}-${tab.value}`"
      :key="tab.value"
      role="tab"
      type="button"
      :tabindex="chosen === tab.value ? 0 : -1"
      :aria-selected="chosen === tab.value"
      :aria-controls="panel"
      @click="chosen = tab.value"
    >
      <UIcon v-if="tab.icon" :name="tab.icon" /> {{ tab.label }}
    </button>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem;
  border-bottom: 1px solid var(--rule);
}
button {
  display: flex;
  align-items: center;
  gap: var(--step);
  padding: var(--step) calc(2 * var(--step));
  border-bottom: 3px solid transparent;
}
button[aria-selected='true'] {
  border-color: var(--together);
  font-weight: 700;
}
</style>
