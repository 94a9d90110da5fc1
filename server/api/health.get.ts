/** Answers once the database is ready. */
export default defineEventHandler(async () => {
  await databasePool().query('select 1')
  return { ready: true }
})
