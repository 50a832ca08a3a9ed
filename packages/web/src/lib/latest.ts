/** Of answers that may overtake each other, the one to what was asked last. */
export function latestOnly(): <T>(asked: Promise<T>) => Promise<T | null> {
  let latest = 0
  /** @returns null where something else has been asked since; then also a failure is nobody's */
  return async (asked) => {
    const mine = ++latest
    try {
      const answer = await asked
      return mine === latest ? answer : null
    } catch (error) {
      if (mine === latest) throw error
      return null
    }
  }
}
