import { kind } from './kind.js'

/** Errors of code: its modules, what hooks and tests do, and changes of names and places. */
export const CODE_ERRORS = {
  'compile/syntax': kind(400, '{detail}', 'Fix the syntax at the line named.'),
  'compile/too-deep': kind(
    400,
    'the code is nested deeper than {limit} levels',
    'Take inner parts out into separate functions or constants.',
  ),
  'compile/too-slow': kind(
    400,
    'the files could not be compiled within {seconds} s',
    'Split the largest module into smaller ones.',
  ),
  'compile/import': kind(
    400,
    "'{module}' cannot be imported here: {detail}",
    "Import from 'patient-hook', or relatively from the plugin's own lib/ folder.",
  ),
  'compile/dynamic-import': kind(
    400,
    'import() is not available inside a hook',
    "Write an import line at the top, of 'patient-hook' or a module of the plugin's lib/ folder.",
  ),
  'hook/no-definition': kind(
    400,
    'the module has no default export made by defineHook',
    'Write: export default defineHook({ table, moment, each }).',
  ),
  'hook/bad-definition': kind(400, '{detail}', 'Fix the definition; docs/hooks.md lists what each part may be.'),
  'hook/module-threw': kind(400, 'the module failed while it was loaded: {detail}', 'Fix the code outside of the functions.'),
  'hook/threw': kind(422, '{detail}', 'Fix the hook at the line named; the save was rolled back.'),
  'hook/unknown-field': kind(
    422,
    'table {table} has no field {field}{hint}',
    "Use the field's name; the field finder turns a label into the name.",
  ),
  'hook/wrong-type': kind(
    422,
    '{table}.{field} takes {expected}, but got {got}',
    'Convert the value in the hook, or change the type of the field.',
  ),
  'hook/readonly': kind(
    422,
    '{detail}',
    'Write to row.now in a before-save hook; to change other records, or the record itself later, ask for effects in after-save.',
  ),
  'hook/async': kind(
    400,
    '{what} cannot be used here: hooks, their modules and tests are synchronous',
    'Take async, await and Promise away; what a hook needs is read in load, once for the whole batch.',
  ),
  'hook/unavailable': kind(422, '{name} is not available inside a hook', '{instead}'),
  'hook/wrong-moment': kind(422, '{detail}', 'See docs/save-path.md for what each moment may do.'),
  'hook/bad-argument': kind(
    422,
    '{detail}',
    'Pass plain values: text, numbers, true, false, null, and lists and objects of them.',
  ),
  'hook/bad-query': kind(422, '{detail}', 'Fix the call to store; docs/hooks.md lists its functions.'),
  'hook/bad-effect': kind(422, '{detail}', 'Fix the values of the effect.'),
  'hook/unknown-sequence': kind(422, 'there is no sequence {name}{hint}', 'Declare it under sequences in project.json.'),
  'hook/paused': kind(
    503,
    'the hook {hook} is paused: it had to be stopped {stops} times',
    'Switch the hook off, roll its plugin back, or release a version that ends. A save tries it again at {nextTry}.',
  ),
  'hook/refused': kind(422, '{detail}', 'Change the values as the message says.'),
  'code/unknown': kind(404, 'there is no {what} {name}{hint}', 'Load the project again.'),
  'code/taken': kind(409, 'there is a {what} {name} already', 'Take another name. No changes were made.'),
  'code/bad': kind(409, '{detail}', 'No changes were made.'),
  'test/expects-nothing': kind(
    422,
    'the test expects nothing: it would pass whatever the hooks do',
    'Write expect(…) for what should come out, or refusal(() => …) for a save that should be refused.',
  ),
  'test/none': kind(
    422,
    '{where} has no unit tests',
    'Write one in plugins/<plugin>/tests/<name>.test.ts, or give --allow-none if that is meant.',
  ),
  'test/failed': kind(422, '{detail}', 'Compare expected and received.'),
} as const
