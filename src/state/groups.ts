import type { Group } from '../core/meadow.ts'
import type { MemberId } from '../core/things/members.ts'
import { idsOf, keyOfMember } from '../core/things/members.ts'
import type { Chosen } from './chosen.ts'
import { chosenOf, joined } from './chosen.ts'

/** Which group each instance and each group is in. */
interface Nesting {
  /** By {@link keyOfMember}. */
  readonly ofMember: ReadonlyMap<string, string>
  readonly ofGroup: ReadonlyMap<string, string>
  readonly byId: ReadonlyMap<string, Group>
}

const known = new WeakMap<readonly Group[], Nesting>()

function nestingOf(groups: readonly Group[]): Nesting {
  const found = known.get(groups)
  if (found) return found
  const made = {
    ofMember: new Map(groups.flatMap((group) => idsOf(group).map((one): [string, string] => [keyOfMember(one), group.id]))),
    ofGroup: new Map(groups.flatMap(({ id, groups: inner }) => inner.map((one): [string, string] => [one, id]))),
    byId: new Map(groups.map((group) => [group.id, group])),
  }
  known.set(groups, made)
  return made
}

/** The groups that an instance is in, the outermost first; those that go round in a circle end where it closes. */
export function groupsAround(groups: readonly Group[], member: MemberId): string[] {
  const { ofMember, ofGroup } = nestingOf(groups)
  const around: string[] = []
  for (let id = ofMember.get(keyOfMember(member)); id !== undefined && !around.includes(id); id = ofGroup.get(id)) around.unshift(id)
  return around
}

/** All instances of a group, those of groups in it too. */
export function membersOfGroup(groups: readonly Group[], id: string): MemberId[] {
  const { byId } = nestingOf(groups)
  const seen = new Set<string>()
  const gather = (one: string): MemberId[] => {
    const group = byId.get(one)
    if (!group || seen.has(one)) return []
    seen.add(one)
    return [...idsOf(group), ...group.groups.flatMap(gather)]
  }
  return gather(id)
}

/** The group that a click on an instance means: the outermost one, or the next within the one that was entered; null for the instance alone. */
export function groupMeant(groups: readonly Group[], member: MemberId, entered: string | null): string | null {
  const around = groupsAround(groups, member)
  const at = entered === null ? -1 : around.indexOf(entered)
  return around[at + 1] ?? null
}

/** A choice with the whole of each group that any of it is in; of what lies within the entered one, only the groups inside that. */
export function withGroups(groups: readonly Group[], chosen: Chosen, entered: string | null): Chosen {
  const whole = groupsIn(groups, chosen, entered)
  return whole.length === 0 ? chosen : joined(chosen, chosenOf(whole.flatMap((id) => membersOfGroup(groups, id))))
}

/** The groups that a choice means: those of its instances. */
export function groupsIn(groups: readonly Group[], chosen: Chosen, entered: string | null): string[] {
  const found = new Set<string>()
  for (const group of groups)
    for (const one of idsOf(group)) {
      if (!chosen.get(one.planting)?.has(one.low, one.high)) continue
      const meant = groupMeant(groups, one, entered)
      if (meant !== null) found.add(meant)
      break
    }
  return [...found]
}
