import { acceptedLanguages, datesIn, readerLocale } from '#core/words/dates'

/** Dates and numbers in the player's locale, the same on the server's page as in the browser. */
export function useDates() {
  const locale = useState('locale', () =>
    readerLocale(import.meta.server ? acceptedLanguages(useRequestHeader('accept-language')) : navigator.languages),
  )
  return datesIn(locale.value)
}
