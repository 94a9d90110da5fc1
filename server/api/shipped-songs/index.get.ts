/** The songs that come with the program. */
export default forPlayer(async () => SHIPPED_SONGS.map(({ file, title }) => ({ file, title })))
