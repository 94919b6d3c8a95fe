const entities: Readonly<Record<string, string>> = {
  ...{ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' },
}

/** A text as it is written into the HTML of a mail, in content and in attributes. */
export const escapedHtml = (text: string): string => text.replace(/[&<>"']/g, (sign) => entities[sign]!)
