/** So many of what is called by its singular: "1 note", "1,200 notes". */
export const many = (count: number, what: string): string =>
  `${count.toLocaleString('en')} ${what}${count === 1 ? '' : 's'}`
