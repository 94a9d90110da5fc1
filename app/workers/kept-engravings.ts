import { LRUCache } from 'lru-cache'
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

interface KeptSchema extends DBSchema {
  engravings: { key: string; value: { key: string; made: unknown; usedAt: number }; indexes: { used: number } }
}

/** What was engraved looks otherwise from here on: what other versions kept is not used. */
const VERSION = 2
const MAX_IN_MEMORY = 80
const MAX_IN_DATABASE = 600
/** After this many additions the oldest are deleted. */
const TIDY_EVERY = 50

/**
 * What was engraved, kept in memory and in the browser's own database, so that a page that was seen before is there at
 * once. Gives what is kept under a key, or makes it. Without a database (private windows of some browsers) the memory
 * has to do.
 */
export function keptEngravings() {
  const memory = new LRUCache<string, Promise<unknown>>({ max: MAX_IN_MEMORY })
  let database: Promise<IDBPDatabase<KeptSchema> | undefined> | undefined
  let added = 0
  const opened = () =>
    (database ??= openDB<KeptSchema>('half-step-notation', VERSION, {
      upgrade(db) {
        for (const name of db.objectStoreNames) db.deleteObjectStore(name)
        db.createObjectStore('engravings', { keyPath: 'key' }).createIndex('used', 'usedAt')
      },
    }).catch(() => undefined))

  async function found<Made>(key: string, make: () => Promise<Made>): Promise<Made> {
    const db = await opened()
    const kept = await db?.get('engravings', key).catch(() => undefined)
    const made = kept ? (kept.made as Made) : await make()
    void db
      ?.put('engravings', { key, made, usedAt: Date.now() })
      .then(async () => {
        if (!kept && ++added % TIDY_EVERY === 0) await tidy(db)
      })
      .catch(() => {})
    return made
  }

  async function tidy(db: IDBPDatabase<KeptSchema>) {
    const store = db.transaction('engravings', 'readwrite').store
    let over = (await store.count()) - MAX_IN_DATABASE
    for (
      let cursor = await store.index('used').openCursor();
      cursor && over > 0;
      cursor = await cursor.continue(), over--
    )
      await cursor.delete()
  }

  return async <Made>(parts: readonly unknown[], make: () => Promise<Made>): Promise<Made> => {
    const key = JSON.stringify(parts)
    const known = memory.get(key) as Promise<Made> | undefined
    if (known) return await known
    const made = found(key, make)
    memory.set(key, made)
    made.catch(() => memory.delete(key))
    return await made
  }
}
