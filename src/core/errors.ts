/** Errors a caller can act on. Everything else is a defect and may surface as it is. */

/** A file that cannot be read: its name, what in it, and why. */
export class UnreadableFileError extends Error {
  constructor(
    readonly fileName: string,
    readonly reason: string,
    options?: ErrorOptions,
  ) {
    super(`${fileName}: ${reason}`, options)
    this.name = 'UnreadableFileError'
  }
}

/** The job was cancelled by its owner; nothing was kept. */
export class CancelledError extends Error {
  constructor(what: string) {
    super(`${what} was cancelled`)
    this.name = 'CancelledError'
  }
}

/** A worker ended by itself, with all that it held. What was asked of it may be asked of another. */
export class BrokenWorkerError extends Error {
  constructor(reason: string) {
    super(reason)
    this.name = 'BrokenWorkerError'
  }
}

/** A value outside its rule: the property, the rule and the value, where there is one, are in the message. */
export class InvalidValueError extends Error {
  constructor(
    readonly property: string,
    rule: string,
    got?: unknown,
  ) {
    const value = typeof got === 'string' || typeof got === 'object' ? JSON.stringify(got) : String(got)
    super(`${property} ${rule}${got === undefined ? '' : ` (got ${value})`}`)
    this.name = 'InvalidValueError'
  }
}

/** Closes a switch over a union: a new member without a case does not compile. */
export function assertNever(value: never): never {
  throw new Error(`unexpected case ${JSON.stringify(value)}`)
}
