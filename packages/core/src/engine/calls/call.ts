import type { OpenProject } from '../open-project.js'

/** One thing an engine can be asked for: plain data in, plain data out. */
export type Call<V extends unknown[], R> = (open: OpenProject, ...values: V) => R
