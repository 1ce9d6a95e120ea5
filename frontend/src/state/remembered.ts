/** What was kept in a storage of the browser under a name; null where nothing was, or nothing that can be
 * read. */
export function remembered(storage: Storage, name: string): unknown {
  try {
    return JSON.parse(storage.getItem(name) ?? "null");
  } catch {
    return null;
  }
}
