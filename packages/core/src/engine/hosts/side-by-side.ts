import type { TryEngines } from './try-engines.js'

/**
 * Does work for every item, as many at once as there are engines that try, in the order of the items.
 * @param alone so many milliseconds one engine works alone: a cold one takes longer to begin than a short piece of work takes
 * @throws whatever the first to fail throws
 */
export async function sideBySide<T>(
  engines: TryEngines,
  items: readonly T[],
  work: (item: T) => Promise<void>,
  alone = 0,
): Promise<void> {
  const waiting = [...items]
  const one = async () => {
    for (let item = waiting.shift(); item !== undefined; item = waiting.shift()) await work(item)
  }
  const first = one()
  if (alone > 0) {
    let timer: NodeJS.Timeout | undefined
    await Promise.race([first, new Promise((done) => (timer = setTimeout(done, alone)))]).finally(() => clearTimeout(timer))
  }
  await Promise.all([first, ...Array.from({ length: engines.size - 1 }, one)])
}
