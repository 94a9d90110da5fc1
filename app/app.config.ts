/** Every control is as high as a finger needs (44 px), whatever the size of its text. */
const TARGET = 'min-h-11'
/** What is typed into or chosen from lies on paper, in a line that stands out from it (3:1; WCAG 2.2, 1.4.11). */
const FIELD = `${TARGET} bg-(--sheet)`

export default defineAppConfig({
  ui: {
    colors: { primary: 'petrol', neutral: 'slate' },
    button: {
      slots: { base: `${TARGET} min-w-11 justify-center` },
      // A button under the pointer keeps its contrast.
      compoundVariants: [{ color: 'primary', variant: 'solid', class: 'hover:bg-primary/90 active:bg-primary/90' }],
    },
    input: { slots: { base: `${FIELD} placeholder:text-muted` }, defaultVariants: { size: 'xl' } },
    textarea: { slots: { root: 'w-full', base: `${FIELD} placeholder:text-muted` }, defaultVariants: { size: 'xl' } },
    select: {
      slots: {
        base: `${FIELD} min-w-24`,
        placeholder: 'text-muted',
        item: `${TARGET} items-center`,
        content: 'w-auto min-w-(--reka-select-trigger-width)',
      },
      defaultVariants: { size: 'xl' },
    },
    formField: {
      defaultVariants: { size: 'xl' },
      // Beside its label, a control keeps to the right edge; all of a panel are of one width.
      variants: {
        orientation: {
          horizontal: { root: 'items-center gap-4', container: 'w-(--control-width,14rem) shrink-0 flex *:w-full' },
        },
      },
    },
    radioGroup: {
      slots: { item: `${TARGET} items-center`, legend: 'font-bold', label: 'font-normal' },
      defaultVariants: { size: 'xl' },
    },
    switch: { slots: { root: `${TARGET} items-center`, label: 'font-normal' }, defaultVariants: { size: 'lg' } },
    checkbox: { slots: { root: `${TARGET} items-center`, label: 'font-normal' }, defaultVariants: { size: 'xl' } },
    tabs: {
      slots: { root: 'items-stretch', trigger: TARGET },
      defaultVariants: { variant: 'link', color: 'neutral', size: 'xl' },
    },
    slider: { slots: { root: TARGET } },
    tooltip: { slots: { content: 'h-auto max-w-80 text-sm', text: 'whitespace-normal overflow-visible' } },
    popover: { slots: { content: 'text-base' } },
  },
})
