/** Of the product: as in the package.json of the package (cli/test/package.test.ts). */
export const VERSION = '0.1.0'
