export * from './days'
export * from './passes'
export * from './players'
export * from './songs'
