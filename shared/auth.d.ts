declare module '#auth-utils' {
  /** `isOpen`: let in without a password, as the only one who plays here. */
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
