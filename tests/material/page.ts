import type { Page } from '@playwright/test'

declare global {
  interface Window { useNuxtApp?: () => { isHydrating?: boolean } }
}

/** Waits until the page that the server rendered answers to clicks: on a busy machine it is seen well before. */
export async function answering(page: Page): Promise<void> {
  await page.waitForFunction(() => window.useNuxtApp?.().isHydrating === false, undefined, { timeout: 30_000 })
}
