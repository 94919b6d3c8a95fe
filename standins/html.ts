export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`)

/** The plain page of every stand-in. */
export const page = (
  title: string,
  body: string,
): string => `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escapeHtml(title)}</title><style>
body{font:15px/1.5 system-ui,sans-serif;margin:0;background:#eef1f0;color:#1d2b2a}main{max-width:56rem;margin:0 auto;padding:1.5rem}h1{font-size:1.4rem}section{background:#fff;padding:1rem 1.25rem;margin:1rem 0}
label{display:grid;gap:.2rem;margin:.5rem 0;font-size:.9rem}input,select{font:inherit;padding:.35rem .5rem;border:1px solid #9aa9a6}button{font:inherit;padding:.45rem 1rem;background:#1d5c50;color:#fff;border:0;margin-top:.5rem}
table{border-collapse:collapse;width:100%;font-size:.85rem}th,td{text-align:left;padding:.25rem .5rem;border-bottom:1px solid #dde3e1;vertical-align:top;word-break:break-word}nav a{margin-right:1rem}.row{display:grid;grid-template-columns:1fr 1fr;gap:0 1rem}</style></head><body><main><h1>${escapeHtml(title)}</h1>${body}</main></body></html>`

export const card = (title: string, body: string): string =>
  `<section><h2 style="font-size:1.05rem;margin:0 0 .5rem">${escapeHtml(title)}</h2>${body}</section>`

export const table = (heads: readonly string[], rows: readonly (readonly string[])[]): string =>
  `<table><thead><tr>${heads.map((head) => `<th>${escapeHtml(head)}</th>`).join('')}</tr></thead><tbody>${rows.map((row) => `<tr>${row.map((cell) => `<td>${cell.startsWith('<a ') ? cell : escapeHtml(cell)}</td>`).join('')}</tr>`).join('')}</tbody></table>`
