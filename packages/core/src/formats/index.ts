/** Open formats that programs read: leaves that know no hook. */
export { toJUnit } from './junit.js'
export { toLcov } from './lcov.js'
export { toTap } from './tap.js'
