declare module '#auth-utils' {
  /** `isOpen`: signed in without a password, as the only player here. */
  interface User {
    id: string
    name: string
    isDemo: boolean
    isOpen?: boolean
  }
  /** What the page does not see. `sessionId`: none for the demo's player. */
  interface SecureSessionData {
    sessionId: string
  }
}

export {}
