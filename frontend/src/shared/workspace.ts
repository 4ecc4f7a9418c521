/** The workspace this page shows: the second part of its address, `/w/name/...`. */
export const workspace = /^\/w\/([^/]+)/.exec(window.location.pathname)?.[1] ?? 'own'

/** The address of another workspace at the same station. */
export const elsewhere = (name: string) => `/w/${name}/`
