/** What is made when it is first asked for: tables of the compiler's own numbers, so that importing a module does not load the compiler. */
export function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => (made ??= { value: make() }).value
}
