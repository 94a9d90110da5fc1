import { messageOf } from '~/utils/ui/messageOf'
import type { Ref } from 'vue'

/** Shows the page for a server that cannot do its work (app/error.vue) when a request was answered so. */
export function throwIfUnavailable(error: Readonly<Ref<{ statusCode?: number } | null | undefined>>): void {
  if (error.value?.statusCode === 503)
    throw createError({ statusCode: 503, message: messageOf(error.value), fatal: true })
}
