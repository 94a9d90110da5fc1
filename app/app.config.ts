export default defineAppConfig({
  ui: { colors: { primary: 'petrol', neutral: 'slate' } },
})
