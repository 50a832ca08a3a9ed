/**
 * Modules have numbers, so that a running hook can leave its place in one shared integer. A file keeps its number for
 * the life of the process.
 */
const numbers = new Map<string, number>()
const files: string[] = []
let listener: (number: number, file: string) => void = () => {}

export function moduleNumber(file: string): number {
  let number = numbers.get(file)
  if (number === undefined) {
    number = files.push(file) - 1
    numbers.set(file, number)
    listener(number, file)
  }
  return number
}

export const fileOf = (number: number): string | undefined => files[number]

/** Tells of every new number: the thread that watches needs to know them before a module runs. */
export function onModuleNumber(tell: (number: number, file: string) => void): void {
  listener = tell
  files.forEach((file, number) => tell(number, file))
}
