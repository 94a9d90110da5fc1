import { nextTick, onMounted, watch, type Ref } from 'vue'
import { useElementSize } from '@vueuse/core'

/** Sizes of text that are tried, largest first, in parts of its own. */
const SIZES = [1, 0.93, 0.86, 0.8, 0.74, 0.68]

/**
 * Sets `--fit` on an element to the largest size at which its text fits into its room, whenever the text or the room
 * changes.
 */
export function useFittingText(element: Ref<HTMLElement | null>, text: () => unknown, size = useElementSize) {
  async function fit() {
    await nextTick()
    const { value } = element
    const room = value?.parentElement
    if (!value || !room) return
    for (const part of SIZES) {
      value.style.setProperty('--fit', `${part}em`)
      if (value.scrollHeight <= room.clientHeight) return
    }
  }
  const { width } = size(element)
  watch([text, width], fit)
  onMounted(fit)
}
