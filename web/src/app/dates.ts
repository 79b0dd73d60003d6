/** Days and moments as this browser's language has them. */

type Month = 'long' | 'short'
/** The day of a date, such as 24 November. */
export const day = (at: string, month: Month = 'long') =>
  new Date(at).toLocaleDateString(undefined, { day: 'numeric', month })
/** The day, and the time of it. */
export const moment = (at: string, month: Month = 'long') =>
  new Date(at).toLocaleString(undefined, { day: 'numeric', month, hour: 'numeric', minute: '2-digit' })
