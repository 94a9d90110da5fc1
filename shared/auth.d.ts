declare module '#auth-utils' {
  interface User { id: string, name: string, isDemo: boolean }
}

export {}
