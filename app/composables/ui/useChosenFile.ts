import { useDropZone, useFileDialog } from '@vueuse/core'
import type { ShallowRef } from 'vue'

/**
 * A file that the player chooses in `input`, or drops on `zone` where there is one: `take` is given it. `accept` is the
 * input's list of endings and kinds.
 */
export function useChosenFile(
  { input, zone }: Readonly<Record<'input' | 'zone', Readonly<ShallowRef<HTMLElement | null>> | undefined>>,
  accept: string,
  take: (file: File) => unknown,
) {
  const { open, onChange } = useFileDialog({
    accept,
    multiple: false,
    reset: true,
    input: input as Readonly<ShallowRef<HTMLInputElement>>,
  })
  onChange(files => {
    if (files?.[0]) void take(files[0])
  })
  const { isOverDropZone } = useDropZone(zone, {
    multiple: true,
    onDrop: files => {
      if (files?.[0]) void take(files[0])
    },
  })
  return { open: () => open(), isOver: isOverDropZone }
}
