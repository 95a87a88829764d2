/** Wrong use of the command: exit code 2. */
export class UsageError extends Error {}
