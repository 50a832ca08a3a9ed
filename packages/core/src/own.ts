/** What an object has by a name itself: a field may be called like what every object inherits. */
export const own = <T>(of: Readonly<Record<string, T>> | null | undefined, name: string): T | undefined =>
  of && Object.hasOwn(of, name) ? of[name] : undefined
