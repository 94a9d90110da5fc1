/** The Stand in a browser, for the tests of it. */
import { expect, type Page } from '@playwright/test'
import { quarters } from '#core/music/quarters'
import { demoScore } from './demo'
import { answering } from './page'

export const FERRY = demoScore('lantern-ferry.musicxml').arrangement
/** Where the ferry's first part lies: from the pickup to bar 4, beat 3. */
export const PART = { from: quarters(0), to: quarters(16) }
export const SIZES = [
  [1280, 800],
  [1920, 1080],
  [820, 1180],
  [640, 400],
  [390, 844],
] as const

export async function partsOf(page: Page, title: string): Promise<{ id: string; name: string }[]> {
  await page.goto('/songs')
  const songs = (await (await page.request.get('/api/songs')).json()) as { id: string; title: string }[]
  return (
    (await (await page.request.get(`/api/songs/${songs.find(song => song.title === title)!.id}`)).json()) as {
      parts: { id: string; name: string }[]
    }
  ).parts
}

export async function open(page: Page, partId: string, query = 'hands=right') {
  await page.goto(`/stand/${partId}?${query}`)
  await answering(page)
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

export const plug = async (page: Page, name = 'Test Piano') =>
  await page.evaluate(called => window.standIn.plug(called), name)
export const sign = (page: Page) => page.locator('.sign')
export const state = async (page: Page) => await sign(page).getAttribute('data-state')
export const title = (page: Page) => page.locator('h1')

/** What of the Stand does not lie in the window, or is cut off; and how high its noteheads are. */
export const measured = async (page: Page) =>
  await page.evaluate(() => {
    const isInside = (element: Element) => {
      const box = element.getBoundingClientRect()
      return (
        box.width === 0 ||
        (box.top >= -1 && box.left >= -1 && box.bottom <= innerHeight + 1 && box.right <= innerWidth + 1)
      )
    }
    const isWhole = (element: Element) =>
      element.scrollHeight <= element.clientHeight + 2 && element.scrollWidth <= element.clientWidth + 2
    const outside = (selector: string) =>
      [...document.querySelectorAll(selector)]
        .filter(element => !isInside(element))
        .map(
          element =>
            element.textContent!.trim().slice(0, 30) ||
            element.getAttribute('aria-label') ||
            element.className.toString(),
        )
    const room = document.querySelector('.page')!.getBoundingClientRect()
    const heads = [
      ...document.querySelectorAll('.engraving .staff:not(.small, .words-only) .note:not(.not-now) .notehead'),
    ]
      .map(head => head.getBoundingClientRect())
      .filter(box => box.height > 0)
    return {
      scrolls: Math.max(
        document.documentElement.scrollHeight - innerHeight,
        document.documentElement.scrollWidth - innerWidth,
      ),
      outside: [
        ...outside('main button, main a, main input, main .sentence'),
        ...(isWhole(document.querySelector('.line')!) && isWhole(document.querySelector('.text')!) ? [] : ['the line']),
      ],
      small: [...document.querySelectorAll('main button:not(.sr-only)')]
        .filter(one => {
          const box = one.getBoundingClientRect()
          return (
            box.width > 0 &&
            !one.closest('[role=switch]') &&
            one.getAttribute('role') !== 'switch' &&
            (box.height < 43.5 || box.width < 43.5)
          )
        })
        .map(one => one.textContent!.trim() || one.getAttribute('aria-label')),
      cutOff: heads.filter(box => box.top < room.top - 1 || box.bottom > room.bottom + 1).length,
      notes: heads.length,
      least: Math.min(...heads.map(box => box.height)),
      most: Math.max(...heads.map(box => box.height)),
    }
  })
