declare module '#auth-utils' {
  interface User { id: string, name: string, isDemo: boolean }
  /** What the page does not see. `sessionId`: none for the demo's player. */
  interface SecureSessionData { sessionId: string }
}

export {}
