/**
 * Every control is as high as a finger needs (44 px), whatever its size of text; where the theme leaves the size open,
 * it is the page’s own.
 */
const TARGET = 'min-h-11'
const TEXT = 'text-base'
/** What is typed into or chosen from lies on paper, with a line that is told from it (3:1, WCAG 2.2, 1.4.11). */
const FIELD = `${TARGET} ${TEXT} bg-(--sheet) ring-(--ui-border-accented)`

export default defineAppConfig({
  ui: {
    colors: { primary: 'petrol', neutral: 'slate' },
    button: {
      slots: { base: `${TARGET} min-w-11 justify-center` },
      // A button under the pointer keeps its contrast.
      compoundVariants: [{ color: 'primary', variant: 'solid', class: 'hover:bg-primary/90 active:bg-primary/90' }],
    },
    input: { slots: { base: FIELD } },
    textarea: { slots: { root: 'w-full', base: FIELD } },
    select: {
      slots: {
        base: `${FIELD} min-w-24`,
        item: `${TARGET} ${TEXT} items-center`,
        content: 'w-auto min-w-(--reka-select-trigger-width)',
      },
    },
    formField: {
      slots: { root: TEXT },
      // Beside its label, a control keeps to the right edge; all of a panel are of one width.
      variants: {
        orientation: { horizontal: { root: 'items-center gap-4', container: 'w-56 shrink-0 flex *:w-full' } },
      },
    },
    radioGroup: {
      slots: { root: TEXT, item: `${TARGET} items-center`, legend: 'font-bold', label: 'font-normal' },
    },
    switch: { slots: { root: `${TARGET} items-center ${TEXT}`, label: 'font-normal' } },
    checkbox: { slots: { root: TARGET, base: 'ring-(--ui-border-accented)' } },
    tabs: {
      slots: { root: 'items-stretch', trigger: `${TARGET} ${TEXT}`, indicator: 'bg-(--together)' },
      defaultVariants: { variant: 'link', color: 'neutral' },
    },
    slider: { slots: { root: TARGET } },
    tooltip: { slots: { content: 'h-auto max-w-80 text-sm', text: 'whitespace-normal overflow-visible' } },
    popover: { slots: { content: 'text-base' } },
  },
})
