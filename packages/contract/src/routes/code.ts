import { route } from '../route.js'
import { codeChangeRequest, codePlan } from '../shapes/code-changes.js'

/** Changes of the code as a whole: what hooks and plugins are called and where they stand. */
export const codeRoutes = {
  planCode: route({
    method: 'POST',
    path: '/code/plan',
    summary: 'What a change of a hook’s or plugin’s name or place does to which files. Nothing is kept: the files are to be put.',
    body: codeChangeRequest,
    answer: codePlan,
  }),
}
