/** Which files a project may have: a leaf that needs nothing, for those who only read and write folders. */

const BELONGS =
  /^(project\.json|tables\/[^/]+\.json|plugins\/[^/]+\/plugin\.json|plugins\/[^/]+\/(hooks|lib|tests)\/.+\.ts|fixtures\/[^/]+\/[^/]+\.(csv|json)|data\/[^/]+\.(csv|json))$/
/** Names of files and folders that every system can hold: no control characters, nothing that Windows forbids. */
const PART = /^[^\p{Cc}\\:*?"<>|]+$/u

/** Is this the path of a file that a project may have, from its folder? */
export const belongsToProject = (path: string): boolean =>
  path.length <= 300 &&
  BELONGS.test(path) &&
  path.split('/').every((part) => PART.test(part) && part !== '.' && part !== '..' && !/[. ]$/.test(part))
