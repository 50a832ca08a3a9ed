/** The middle one; of an even number the upper of the two. */
export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!
