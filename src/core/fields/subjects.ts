/** What conditions and drivers go by, in the order in which lists show them. */
export const SUBJECTS = [
  { subject: 'ground', label: 'The lie of the ground' },
  { subject: 'water', label: 'Water' },
  { subject: 'drawn', label: 'What is drawn' },
  { subject: 'things', label: 'What stands there' },
  { subject: 'run', label: 'Its place in a pattern' },
  { subject: 'pattern', label: 'Patterns and pictures' },
] as const

export type Subject = (typeof SUBJECTS)[number]['subject']

/** Kinds under their subjects, both in the order in which lists show them; subjects without any are left out. */
export function bySubject<K extends { readonly subject: Subject; readonly label: string }>(kinds: readonly K[]): { readonly label: string; readonly kinds: K[] }[] {
  return SUBJECTS.map(({ subject, label }) => ({
    label,
    kinds: kinds.filter((kind) => kind.subject === subject).sort((a, b) => (a.label < b.label ? -1 : 1)),
  })).filter((group) => group.kinds.length > 0)
}
