const DAY_MS = 86_400_000

/**
 * The locale that dates and numbers are written in: the first one a player's browser asks for, in English, as
 * everything else is. A region is kept: with "de-DE" they are as English is written in Germany. `languages`: of an
 * Accept-Language header or of the browser.
 */
export function readerLocale(languages: readonly string[], otherwise = 'en-GB'): string {
  for (const language of languages) {
    try {
      const { language: spoken, region } = new Intl.Locale(language)
      if (spoken === 'en') return region ? `en-${region}` : 'en'
      if (region) return `en-${region}`
    } catch {
      /* Not a language. */
    }
  }
  return otherwise
}

/** The languages of an Accept-Language header, most wanted first. */
export const acceptedLanguages = (header: string | undefined): string[] =>
  (header ?? '')
    .slice(0, 300)
    .split(',')
    .map(part => part.split(';'))
    .map(([language = '', ...rest]) => ({
      language: language.trim(),
      weight: Number(rest.find(one => one.trim().startsWith('q='))?.split('=')[1] ?? 1),
    }))
    .filter(one => one.language !== '' && one.language !== '*')
    .sort((a, b) => b.weight - a.weight)
    .map(one => one.language)

/** Dates as a player reads them, in a locale and in the time zone of the machine. */
export function datesIn(locale: string) {
  const at = (when: string | number | Date): Date =>
    typeof when === 'string' && when.length === 10 ? new Date(`${when}T12:00:00`) : new Date(when)
  const midnight = (day: Date) => new Date(day.getFullYear(), day.getMonth(), day.getDate()).getTime()
  const written = (options: Intl.DateTimeFormatOptions) => (when: string | number | Date) =>
    at(when).toLocaleDateString(locale, options)
  /** "21 February", with the year where it is not this one. */
  const date = (when: string | number | Date, now = new Date()): string =>
    at(when).toLocaleDateString(locale, {
      day: 'numeric',
      month: 'long',
      year: at(when).getFullYear() === now.getFullYear() ? undefined : 'numeric',
    })
  return {
    date,
    /** "today", "yesterday", "3 days ago", or the date. */
    dayName(when: string | number | Date | null | undefined, now = new Date()): string {
      if (!when) return 'never'
      const days = Math.round((midnight(now) - midnight(at(when))) / DAY_MS)
      if (days <= 0) return 'today'
      if (days === 1) return 'yesterday'
      return days < 7 ? `${days} days ago` : date(when, now)
    },
    timeOfDay: (when: string | number | Date): string =>
      at(when).toLocaleTimeString(locale, { hour: '2-digit', minute: '2-digit' }),
    weekdayAndDate: written({ weekday: 'long', day: 'numeric', month: 'long' }),
    weekday: written({ weekday: 'short' }),
    shortDate: written({ day: 'numeric', month: 'short' }),
    number: (value: number): string => value.toLocaleString(locale),
  }
}
