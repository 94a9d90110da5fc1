<script setup lang="ts" generic="Value">
import type { Choice } from '~/utils/ui/choices'

/** One out of a list. Its label stands above it, before it in a panel's row, or is only read out. */
const props = withDefaults(
  defineProps<{
    label: string
    choices: readonly Choice<Value>[]
    layout?: 'above' | 'row' | 'unseen'
    /** Why one would choose, under the label. */
    description?: string
    placeholder?: string
    disabled?: boolean
  }>(),
  { layout: 'above', placeholder: undefined, description: undefined },
)
const chosen = defineModel<Value>({ required: true })

// The list of the library knows no empty value: its own are places in the list.
const items = computed(() => props.choices.map(({ label }, value) => ({ label, value })))
const place = computed({
  get: () => {
    const at = props.choices.findIndex(one => one.value === chosen.value)
    return at < 0 ? undefined : at
  },
  set: at => {
    const choice = at === undefined ? undefined : props.choices[at]
    if (choice) chosen.value = choice.value
  },
})
</script>

<template>
  <USelect
    v-if="layout === 'unseen'"
    v-model="place"
    :items="items"
    :aria-label="label"
    :placeholder="placeholder"
    :disabled="disabled"
  />
  <UFormField
    v-else
    :label="label"
    :description="description"
    :orientation="layout === 'row' ? 'horizontal' : 'vertical'"
  >
    <USelect v-model="place" :items="items" :placeholder="placeholder" :disabled="disabled" />
  </UFormField>
</template>
