/** An e-mail address anywhere in a text: good enough to see that one stands where none belongs. */
export const mail = /[^\s@,;<>()]{1,64}@[^\s@,;<>()]{1,190}\.[a-z]{2,24}/i

/**
 * Whether a text is exactly one e-mail address that a message can be sent to: at most 254 characters (RFC 5321), no
 * list, no group, no name, no comment.
 */
export const isOneAddress = (text: string): boolean =>
  text.length <= 254 &&
  /^[^\s@,;:<>()[\]"\\]{1,64}@(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.){1,8}[a-z][a-z0-9-]{1,62}$/i.test(text)
