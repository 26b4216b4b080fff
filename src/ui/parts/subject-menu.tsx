import { Menu } from '@chakra-ui/react'
import type { Subject } from '../../core/fields/subjects.ts'
import { bySubject } from '../../core/fields/subjects.ts'

interface Kind {
  readonly kind: string
  readonly label: string
  readonly help: string
  readonly subject: Subject
}

interface SubjectItemsProps {
  readonly kinds: readonly Kind[]
  readonly onChoose: (kind: string) => void
}

/** Conditions or drivers to choose from, under the subjects that they go by. */
export function SubjectItems({ kinds, onChoose }: SubjectItemsProps) {
  return bySubject(kinds).map((group) => (
    <Menu.ItemGroup key={group.label}>
      <Menu.ItemGroupLabel>{group.label}</Menu.ItemGroupLabel>
      {group.kinds.map(({ kind, label, help }) => (
        <Menu.Item key={kind} value={kind} title={help} onClick={() => onChoose(kind)}>
          {label}
        </Menu.Item>
      ))}
    </Menu.ItemGroup>
  ))
}

/** The same as entries of a list. */
export function SubjectOptions({ kinds }: Pick<SubjectItemsProps, 'kinds'>) {
  return bySubject(kinds).map((group) => (
    <optgroup key={group.label} label={group.label}>
      {group.kinds.map(({ kind, label }) => (
        <option key={kind} value={kind}>
          {label.toLowerCase()}
        </option>
      ))}
    </optgroup>
  ))
}
