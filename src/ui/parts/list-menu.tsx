import { Menu } from '@chakra-ui/react'
import { Ellipsis } from 'lucide-react'
import type { ReactNode } from 'react'
import { MenuLayer } from './menu-layer.tsx'

interface ListMenuProps {
  /** The entries of the menu of one in the list. */
  readonly items: (id: string) => ReactNode
  /** The list, with a `ListMenuButton` for each in it. */
  readonly children: ReactNode
}

/** One menu for all in a list: hundreds of their own would hold up scrolling. */
export function ListMenu({ items, children }: ListMenuProps) {
  return (
    <Menu.Root lazyMount unmountOnExit>
      {children}
      <MenuLayer>
        <Menu.Context>{({ triggerValue }) => triggerValue !== null && items(triggerValue)}</Menu.Context>
      </MenuLayer>
    </Menu.Root>
  )
}

/** Opens the menu of one in the list. */
export function ListMenuButton({ id, label }: { readonly id: string; readonly label: string }) {
  return (
    <Menu.Trigger asChild value={id}>
      <button type="button" className="icon-action" aria-label={label}>
        <Ellipsis size={15} />
      </button>
    </Menu.Trigger>
  )
}
