import { expect, type Locator, type Page } from '@playwright/test'

declare global {
  interface Window {
    useNuxtApp?: () => { isHydrating?: boolean }
  }
}

/** Waits until the page that the server rendered answers to clicks: on a busy machine it is seen well before. */
export async function answering(page: Page): Promise<void> {
  await page.waitForFunction(() => window.useNuxtApp?.().isHydrating === false, undefined, { timeout: 30_000 })
}

/** Opens the newest day in the Logbook: its passes are fetched as it is opened. */
export async function newestSession(page: Page): Promise<void> {
  await page.goto('/logbook')
  await answering(page)
  await page.locator('details summary').first().click({ timeout: 5000 })
  await expect(page.locator('tbody tr').first()).toBeVisible({ timeout: 15_000 })
}

/** Scrolls to the first picture of a page, and waits until it is drawn: pictures are drawn as they come into view. */
export async function firstPicture(page: Page): Promise<void> {
  await expect(async () => await page.locator('figure').first().scrollIntoViewIfNeeded({ timeout: 2000 })).toPass({
    timeout: 30_000,
  })
  await expect(page.locator('.js-plotly-plot .main-svg').first()).toBeVisible({ timeout: 30_000 })
}

/** Chooses in a list: the first of its choices of that name, once it is there. */
export async function pick(list: Locator, option: string | RegExp): Promise<void> {
  await list.click()
  await list.page().getByRole('option', { name: option }).first().click()
  await expect(list.page().getByRole('listbox')).toHaveCount(0)
}

/** Sets a slider with the keyboard: to its end, or so many steps away from where it is. */
export async function slide(slider: Locator, to: 'End' | 'Home' | number): Promise<void> {
  if (typeof to === 'string') return await slider.press(to)
  for (let step = 0; step < Math.abs(to); step++) await slider.press(to > 0 ? 'ArrowRight' : 'ArrowLeft')
}
