/** Set by the demo's start command: a visitor on this machine is signed in as the demo's player. */
export const isDemoMode = (): boolean => process.env.HALF_STEP_DEMO === '1'

/** Set by `npm start`: the program runs for somebody's own use. At this machine one person alone needs no password. */
export const isOwnMode = (): boolean => process.env.HALF_STEP_OWN === '1'
