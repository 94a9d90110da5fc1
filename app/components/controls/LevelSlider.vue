<script setup lang="ts">
/**
 * A level between two ends. The library calls its handle "Thumb", whatever it moves; here it has the name that it is
 * given.
 */
const props = defineProps<{ label: string; min: number; max: number; step: number }>()
const level = defineModel<number>({ required: true })
const slider = useTemplateRef<{ $el: HTMLElement }>('slider')
onMounted(() => {
  watchEffect(() => slider.value?.$el.querySelector('[role="slider"]')?.setAttribute('aria-label', props.label))
})
</script>

<template>
  <USlider ref="slider" v-model="level" :min="min" :max="max" :step="step" />
</template>
