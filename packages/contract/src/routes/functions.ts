import { z } from 'zod'
import { route } from '../route.js'
import { functionCall, functionResult } from '../shapes/functions.js'
import { files } from '../shapes/values.js'
import { keptTest } from './saves.js'

/** Functions of a plugin's lib, tried by themselves. */

const calling = functionCall.extend({ drafts: files.optional() })

export const functionRoutes = {
  callFunction: route({
    method: 'POST',
    path: '/functions',
    summary: 'Calls an exported function of a plugin’s lib, and says what it gives and what each line did.',
    body: calling,
    answer: functionResult,
  }),
  keepFunctionTest: route({
    method: 'POST',
    path: '/functions/test',
    summary: 'A unit test of such a call; tried, and not kept yet.',
    body: calling.extend({ test: z.string().min(1).max(200) }),
    answer: keptTest,
  }),
}
