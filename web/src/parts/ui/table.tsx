// A table of few columns that reads as a list on a narrow screen.
import type { ReactNode } from 'react'

export type Column<T> = { name: string; of: (row: T) => ReactNode; figure?: boolean }

type Props<T> = { caption: string; columns: Column<T>[]; rows: T[]; id: (row: T) => string }

export function Table<T>({ caption, columns, rows, id }: Props<T>) {
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">{caption}</caption>
      <thead className="max-sm:sr-only">
        <tr className="border-b border-line text-small text-lead">
          {columns.map((c) => (
            <th key={c.name} scope="col" className={`py-1.5 pr-4 font-normal ${c.figure ? 'text-right' : 'text-left'}`}>
              {c.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={id(row)} className="border-b border-line max-sm:grid max-sm:py-2">
            {columns.map((c) => (
              <td key={c.name} className={`py-2 pr-4 max-sm:py-0.5 ${c.figure ? 'num sm:text-right' : ''}`}>
                {c.of(row)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
