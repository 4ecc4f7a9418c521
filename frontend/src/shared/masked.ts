/** An e-mail address by its first letter and its host, a phone by its last digits: people stay masked. */
export const maskedText = (text: string): string =>
  text
    .replace(
      /^(email:)?([^@\s]?)[^@\s]*@/,
      (_, kind: string | undefined, first: string) => `${kind ?? ''}${first}...@`,
    )
    .replace(
      /^(phone:)?\+?\d{4,}(\d\d)$/,
      (_, kind: string | undefined, end: string) => `${kind ?? ''}...${end}`,
    )
