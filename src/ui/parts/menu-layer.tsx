import { Menu, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** Menus lie in the page's main part, over all else in it: readers look for content by its landmarks. */
const MAIN = {
  get current(): HTMLElement | null {
    return document.querySelector('main')
  },
}

/** Where the entries of a menu are shown. */
export function MenuLayer({ children }: { readonly children: ReactNode }) {
  return (
    <Portal container={MAIN as React.RefObject<HTMLElement>}>
      <Menu.Positioner>
        <Menu.Content>{children}</Menu.Content>
      </Menu.Positioner>
    </Portal>
  )
}
