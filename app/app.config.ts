export default defineAppConfig({
  ui: {
    colors: { primary: 'petrol', neutral: 'slate' },
    // A button under the pointer keeps its contrast.
    button: {
      compoundVariants: [{ color: 'primary', variant: 'solid', class: 'hover:bg-primary/90 active:bg-primary/90' }],
    },
  },
})
