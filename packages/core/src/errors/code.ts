import { kind } from './kind.js'

/** Errors of code: its modules, what hooks and tests do, and changes of names and places. */
export const CODE_ERRORS = {
  'compile/syntax': kind(400, '{detail}', 'Fix the syntax error on that line.'),
  'compile/too-deep': kind(
    400,
    'the code is nested deeper than {limit} levels',
    'Move inner parts into separate functions or constants.',
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
    "Import at the top of the file instead, from 'patient-hook' or the plugin's lib/ folder.",
  ),
  'hook/no-definition': kind(
    400,
    'the module has no default export made by defineHook',
    'Write: export default defineHook({ table, moment, each }).',
  ),
  'hook/bad-definition': kind(
    400,
    '{detail}',
    'Fix this part of the definition. docs/hooks.md lists the parts and their values.',
  ),
  'hook/module-threw': kind(400, 'the module failed while it was loaded: {detail}', 'Fix the top-level code of the module.'),
  'hook/threw': kind(422, '{detail}', 'Fix the hook on that line. The save was rolled back.'),
  'hook/unknown-field': kind(
    422,
    'table {table} has no field {field}{hint}',
    "Use the field's name. Insert field in Write finds it by its label.",
  ),
  'hook/wrong-type': kind(
    422,
    '{table}.{field} takes {expected}, but got {got}',
    'Convert the value in the hook, or change the type of the field.',
  ),
  'hook/readonly': kind(
    422,
    '{detail}',
    'Write to row.now in a before-save hook. To change other records, ask for effects in an after-save hook.',
  ),
  'hook/async': kind(
    400,
    '{what} cannot be used here: hooks, their modules and tests are synchronous',
    'Remove async, await and Promise. Read what the hook needs in load, once per batch.',
  ),
  'hook/unavailable': kind(422, '{name} is not available inside a hook', '{instead}'),
  'hook/wrong-moment': kind(422, '{detail}', 'See docs/save-path.md for what each moment may do.'),
  'hook/bad-argument': kind(
    422,
    '{detail}',
    'Pass plain values: text, numbers, true, false, null, and lists and objects of them.',
  ),
  'hook/bad-query': kind(422, '{detail}', 'Fix the call to store. docs/hooks.md lists its functions.'),
  'hook/bad-effect': kind(422, '{detail}', 'Fix the values that the hook passes to update, create, remove or send.'),
  'hook/unknown-sequence': kind(
    422,
    'there is no sequence {name}{hint}',
    'Add it in the project settings (sequences in project.json), or use an existing one.',
  ),
  'hook/paused': kind(
    503,
    'the hook {hook} is paused: it had to be stopped {stops} times',
    'Switch the hook off, roll back its plugin, or release a version that terminates. A save tries it again at {nextTry}.',
  ),
  'hook/refused': kind(422, '{detail}', 'Change the values as the message says.'),
  'code/unknown': kind(404, 'there is no {what} {name}{hint}', 'Check the name. Reload the page if somebody renamed it.'),
  'code/taken': kind(409, 'a {what} named {name} already exists', 'Choose another name. No changes were made.'),
  'code/bad': kind(409, '{detail}', 'No changes were made.'),
  'test/expects-nothing': kind(
    422,
    'the test has no expectation, so it would pass whatever the hooks do',
    'Add expect(…) for the result, or refusal(() => …) for a save that must be refused.',
  ),
  'test/none': kind(
    422,
    '{where} has no unit tests',
    'Add one in plugins/<plugin>/tests/<name>.test.ts, or pass --allow-none if that is intended.',
  ),
  'test/failed': kind(422, '{detail}', 'Compare expected and received.'),
} as const
