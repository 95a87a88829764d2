type Grant = (lock: object | null) => Promise<void> | undefined
/** The browser's lock manager as far as it is used: one holder a name, `ifAvailable`, `steal`. */
export class Locks {
  readonly held = new Map<string, () => void>()

  async request(
    name: string,
    options: { steal?: boolean; ifAvailable?: boolean },
    grant: Grant,
  ): Promise<void> {
    const holder = this.held.get(name)
    if (holder && options.ifAvailable) return void (await grant(null))
    if (holder) holder()
    await new Promise<void>((resolve, reject) => {
      this.held.set(name, () => reject(new DOMException('stolen', 'AbortError')))
      void Promise.resolve(grant({})).then(() => {
        this.held.delete(name)
        resolve()
      })
    })
  }
}
