/** Set by the demo's start command: a visitor on this machine is signed in as the demo's player. */
export const isDemoMode = (): boolean => process.env.HALF_STEP_DEMO === '1'
