import type { Command } from 'commander'
import type { ApiKey } from '@patient-hook/contract'
import { withApplication } from '../application.js'
import { examples, print, printJson, usage } from '../output.js'

interface KeyOptions {
  data: string
  json?: boolean
}

const SCOPES = ['read', 'save']

export function addKeys(program: Command): void {
  const keys = program.command('keys').description('List, create and revoke the API keys of an application; it may be running.')
  const data = ['--data <folder>', "the application's folder"] as const
  keys
    .command('list')
    .description('List the API keys, newest first.')
    .requiredOption(...data)
    .option('--json', 'print JSON')
    .action(async ({ data, json }: KeyOptions) => {
      const all = await withApplication(data, ({ ask }) => ask<{ keys: ApiKey[] }>('GET', '/keys'))
      if (json) return printJson(all)
      if (all.keys.length === 0) print('There are no API keys.')
      for (const key of all.keys) print(lineOf(key))
    })
  keys
    .command('create')
    .addHelpText('after', examples('patient-hook keys create scale --data .patient-hook --user ines --scope save'))
    .description('Create an API key and print it. It is shown once: only its hash is stored.')
    .argument('<name>', 'what the key is for')
    .requiredOption(...data)
    .requiredOption('--user <name>', 'user who saves with the key')
    .option('--scope <scope>', `${SCOPES.join(' or ')}: read records, or also save them`, 'read')
    .option('--json', 'print JSON')
    .action(async (name: string, { data, user, scope, json }: KeyOptions & { user: string; scope: string }) => {
      if (!SCOPES.includes(scope)) throw usage(`--scope: there is no ${JSON.stringify(scope)}; there are ${SCOPES.join(', ')}`)
      const made = await withApplication(data, ({ ask }) =>
        ask<{ id: number; key: string }>('POST', '/keys', { name, user, scope, madeBy: user }),
      )
      if (json) printJson(made)
      else print(made.key)
    })
  keys
    .command('revoke')
    .description('Revoke an API key, from the next call on.')
    .argument('<id>', 'its id, from keys list')
    .requiredOption(...data)
    .option('--json', 'print JSON')
    .action(async (id: string, { data, json }: KeyOptions) => {
      if (!/^[1-9]\d{0,14}$/.test(id)) throw usage(`${JSON.stringify(id)} is not the id of a key; see patient-hook keys list`)
      const all = await withApplication(data, async ({ ask }) => {
        const { keys } = await ask<{ keys: ApiKey[] }>('GET', '/keys')
        if (!keys.some((key) => key.id === Number(id))) throw usage(`there is no key ${id}; see patient-hook keys list`)
        return ask<{ keys: ApiKey[] }>('DELETE', `/keys/${id}`)
      })
      if (json) printJson(all)
      else print(`Revoked key ${id}`)
    })
}

const lineOf = ({ id, name, user, scope, madeAt, usedAt, revokedAt }: ApiKey): string =>
  `${id}  ${name}: ${scope} as ${user}, created ${madeAt}, ${revokedAt ? `revoked ${revokedAt}` : usedAt ? `last used ${usedAt}` : 'never used'}`
