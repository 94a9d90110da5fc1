<script setup lang="ts">
/**
 * Says what the control in it does and by which key: under the pointer, when the keyboard reaches it, and where it is
 * touched for long.
 */
defineOptions({ inheritAttrs: false })
const props = defineProps<{ text?: string }>()
const LONG_TOUCH_MS = 500
/** It stays after the finger has left, so that it is not read under it, ms. */
const STAYS_MS = 2_500

const isOpen = ref(false)
let wasLong = false
const leave = useTimeoutFn(() => (isOpen.value = wasLong = false), STAYS_MS, { immediate: false })
const hold = useTimeoutFn(
  () => {
    isOpen.value = wasLong = true
  },
  LONG_TOUCH_MS,
  { immediate: false },
)

function begin(event: PointerEvent) {
  wasLong = false
  if (event.pointerType === 'touch' && props.text) hold.start()
}
function end() {
  hold.stop()
  if (wasLong) leave.start()
}
/** A touch that asked what the control does does not do it. */
function keepBack(event: Event) {
  if (!wasLong) return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <UTooltip
    v-model:open="isOpen"
    :text="text"
    v-bind="$attrs"
    @pointerdown="begin"
    @pointerup="end"
    @pointercancel="end"
    @contextmenu="keepBack"
    @click.capture="keepBack"
  >
    <slot />
  </UTooltip>
</template>
