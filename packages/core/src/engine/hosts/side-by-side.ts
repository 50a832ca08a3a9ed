import type { TryEngines } from './try-engines.js'

/** Does work for every item, as many at once as there are engines that try, in the order of the items. @throws whatever the first to fail throws */
export async function sideBySide<T>(engines: TryEngines, items: readonly T[], work: (item: T) => Promise<void>): Promise<void> {
  const waiting = [...items]
  const one = async () => {
    for (let item = waiting.shift(); item !== undefined; item = waiting.shift()) await work(item)
  }
  await Promise.all(Array.from({ length: engines.size }, one))
}
