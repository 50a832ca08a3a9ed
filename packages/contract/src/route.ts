import type { z } from 'zod'

/** One call of the HTTP API: what goes in, what comes out. Server, interface and OpenAPI are made from it. */
export interface Route<
  Params extends z.ZodObject = z.ZodObject,
  Query extends z.ZodObject = z.ZodObject,
  Body extends z.ZodType = z.ZodType,
  Answer extends z.ZodType = z.ZodType,
> {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** Below /api; `:name` represents a parameter. */
  path: string
  /** A summary in one line. */
  summary: string
  /** Of the path. */
  params?: Params
  query?: Query
  body?: Body
  /** Of the answer with `status`; server-sent events where `events` is set: then of the data of each event. */
  answer: Answer
  /** Of success; default 200. */
  status?: 200 | 201 | 202
  events?: true
}

export const route = <Params extends z.ZodObject, Query extends z.ZodObject, Body extends z.ZodType, Answer extends z.ZodType>(
  description: Route<Params, Query, Body, Answer>,
): Route<Params, Query, Body, Answer> => description

type Taken<S> = S extends z.ZodType ? z.infer<S> : undefined
type Given<S> = S extends z.ZodType ? z.input<S> : undefined
type Parts<R> = R extends Route<infer P, infer Q, infer B, infer A> ? { params: P; query: Q; body: B; answer: A } : never

/** What the server takes, once it has been checked. */
export interface Asked<R> {
  params: Taken<Parts<R>['params']>
  query: Taken<Parts<R>['query']>
  body: Taken<Parts<R>['body']>
}
/** What a caller gives. */
export interface Asking<R> {
  params?: Given<Parts<R>['params']>
  query?: Given<Parts<R>['query']>
  body?: Given<Parts<R>['body']>
}
export type AnswerOf<R> = Taken<Parts<R>['answer']>
