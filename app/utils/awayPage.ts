import type { Ref } from 'vue'

/** Shows the page for a server that cannot do its work (app/error.vue) when one of these requests was answered so. */
export function awayPage(...errors: Readonly<Ref<{ statusCode?: number } | null | undefined>>[]): void {
  const away = errors.map(error => error.value).find(error => error?.statusCode === 503)
  if (away) throw createError({ statusCode: 503, message: messageOf(away), fatal: true })
}
