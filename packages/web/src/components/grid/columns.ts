import type { Field } from '@patient-hook/contract'

/** A column of a grid. */
export interface GridColumn {
  /** Unique within the grid. */
  key: string
  title: string
  /** Shown on hover over the head. */
  hint?: string | undefined
  /** Names its row, and stays in sight when the grid scrolls sideways. */
  heading?: boolean
  /** Aligned to the right. */
  number?: boolean
  required?: boolean
  sortable?: boolean
  sorted?: 'ascending' | 'descending' | undefined
  /** Place within the sort order where there are several, from 1. */
  sortPlace?: number | undefined
}

export const isNumeric = (field: Field): boolean => (field.type === 'integer' || field.type === 'number') && !field.link

export const fieldColumn = (field: Field): GridColumn => ({
  key: field.name,
  title: field.label,
  hint: field.help === '' ? field.name : `${field.name}: ${field.help}`,
  number: isNumeric(field),
  required: field.required,
})
