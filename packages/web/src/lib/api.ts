import type {
  Diagnostic,
  ErrorReport,
  HistoryEntry,
  Inferred,
  ModelEdit,
  ModelPlan,
  ProjectInfo,
  RecordPage,
  RecordValues,
  SaveOutcome,
  Sheet,
  SheetRequest,
  TableEdit,
  TestResult,
  Value,
} from '@patient-hook/core'

/** The server's HTTP API. An error carries the server's report: what happened, where, what to do. */

export class ApiError extends Error {
  constructor(readonly report: ErrorReport) {
    super(report.message)
  }
}

async function ask<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      method,
      signal,
      headers: body === undefined ? {} : { 'content-type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error
    throw new ApiError({
      code: 'engine/stopped',
      message: 'The server does not answer',
      todo: 'Start it again with ./start, then reload this page.',
    })
  }
  const answer = (await response.json()) as T & { error?: ErrorReport }
  if (!response.ok)
    throw new ApiError(answer.error ?? { code: 'engine/stopped', message: response.statusText, todo: 'Try again.' })
  return answer
}

export type Row = { table: string; values: Record<string, Value>; id?: number; copyOf?: number; remove?: boolean }
export type Drafts = Record<string, string>
export interface FullRecord {
  record: RecordValues
  history: HistoryEntry[]
  labels: RecordPage['labels']
}

const query = (values: Record<string, string | number | undefined>) => {
  const parts = Object.entries(values).filter(([, value]) => value !== undefined && value !== '')
  return parts.length ? `?${new URLSearchParams(parts.map(([key, value]) => [key, String(value)])).toString()}` : ''
}

export const api = {
  project: () => ask<ProjectInfo>('GET', '/project'),
  declarations: () => ask<{ text: string }>('GET', '/declarations'),
  code: () => ask<{ files: Drafts }>('GET', '/code'),
  file: (path: string) => ask<{ text: string }>('GET', `/file${query({ path })}`),
  putFiles: (files: Drafts) => ask<ProjectInfo>('PUT', '/files', { files }),
  planModel: (edit: ModelEdit, code: boolean, signal?: AbortSignal) =>
    ask<ModelPlan>('POST', '/model/plan', { ...edit, code }, signal),
  changeModel: (edit: ModelEdit, accept: boolean, user: string) =>
    ask<ProjectInfo>('POST', '/model/change', { ...edit, accept, user }),
  inferTable: (name: string, file: string, text: string) => ask<Inferred>('POST', '/model/infer', { name, file, text }),
  readSchema: (name: string, file: string, text: string) => ask<TableEdit>('POST', '/model/schema', { name, file, text }),
  tests: (drafts: Drafts, only: string[]) => ask<{ results: TestResult[] }>('POST', '/tests', { drafts, only }),
  sheet: (request: SheetRequest & { fixtures?: string; drafts?: Drafts }, signal?: AbortSignal) =>
    ask<Sheet>('POST', '/sheet', request, signal),
  rehearse: (rows: Row[], user: string, signal?: AbortSignal) => ask<SaveOutcome>('POST', '/rehearsals', { rows, user }, signal),
  save: (rows: Row[], user: string) => ask<SaveOutcome>('POST', '/saves', { rows, user }),
  records: (table: string, options: { offset?: number; limit?: number; orderBy?: string; search?: string; where?: string }) =>
    ask<RecordPage>('GET', `/tables/${table}/records${query(options)}`),
  record: (table: string, id: number) => ask<FullRecord>('GET', `/tables/${table}/records/${id}`),
  choices: (table: string, text: string) =>
    ask<{ choices: { id: number; label: string }[] }>('GET', `/tables/${table}/choices${query({ text })}`),
}
export type { Diagnostic }
