/** One error that the product can give. */
export interface ErrorKind {
  /** What happened, with `{placeholders}` filled from the details. */
  message: string
  /** What the reader should do next. */
  todo: string
  /** HTTP status the server answers with. */
  status: number
}

export const kind = <const M extends string, const T extends string>(status: number, message: M, todo: T) => ({
  status,
  message,
  todo,
})
