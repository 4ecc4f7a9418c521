/**
 * The field that a refusal speaks of: `plan: dialect.1.slots.2.name: Field required` is the name of the second slot. A
 * form of one field needs no name.
 */
export function fieldOf(form: HTMLElement, message: string): HTMLElement | null {
  const path =
    /(?:^|: )([a-z_]+(?:\.\w+)+|[a-z_]+): /.exec(message.replace(/^plan: /, ''))?.[1]?.split('.') ?? []
  let here: HTMLElement | null = null
  for (const [at, part] of path.entries()) {
    const root: HTMLElement = here ?? form
    const next: HTMLElement | null | undefined = /^\d+$/.test(part)
      ? root.querySelectorAll<HTMLElement>(':scope > .item')[Number(part) - 1]
      : root.querySelector<HTMLElement>(`[data-field="${CSS.escape(part)}"]`)
    // The name of the list comes first, and may be that of a field, too: what follows its number decides.
    if (next && !(at === 0 && /^\d+$/.test(path[1] ?? ''))) here = next
  }
  const inside = here?.matches(FIELDS) ? here : here?.querySelector<HTMLElement>(FIELDS)
  if (inside) return inside
  const fields = [...form.querySelectorAll<HTMLElement>(FIELDS)].filter((field) => field.offsetParent)
  return fields.length === 1 ? fields[0]! : null
}

const FIELDS = 'input:not([type=file], [type=checkbox], [type=radio]), select, textarea'

/** Mark the field that a refusal speaks of, with its words, until it is changed or taken back. */
export function markInvalid(note: HTMLElement, message: string): () => void {
  const form = note.closest<HTMLElement>('form, aside, dialog, fieldset, section')
  const field = form && fieldOf(form, message)
  if (!field) return () => undefined
  const clear = () => {
    field.removeAttribute('aria-invalid')
    field.removeAttribute('aria-errormessage')
    field.removeEventListener('input', clear)
  }
  field.setAttribute('aria-invalid', 'true')
  field.setAttribute('aria-errormessage', note.id)
  field.addEventListener('input', clear)
  field.focus()
  return clear
}
