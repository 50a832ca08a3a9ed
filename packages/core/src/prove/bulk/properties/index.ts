import type { BulkProperty } from '../property.js'
import { badRowAlone } from './bad-row-alone.js'
import { batchEqualsSingles } from './batch-equals-singles.js'
import { batchSizeFree } from './batch-size-free.js'
import { constantQueries } from './constant-queries.js'
import { emptyAndRepeatedLinks } from './empty-and-repeated-links.js'
import { linearGrowth } from './linear-growth.js'
import { orderFree } from './order-free.js'
import { savingAgain } from './saving-again.js'

export const PROPERTIES: readonly BulkProperty[] = [
  batchEqualsSingles,
  orderFree,
  batchSizeFree,
  savingAgain,
  badRowAlone,
  emptyAndRepeatedLinks,
  constantQueries,
  linearGrowth,
]
