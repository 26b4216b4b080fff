import { useLayoutEffect, useRef, useState } from 'react'
import type { Asset } from '../../core/meadow.ts'

/** A row of the shelf: a category's heading, or so many assets of it. */
export type ShelfRow = { readonly key: string; readonly heading: string } | { readonly key: string; readonly assets: readonly Asset[] }

/** Whether an asset is found by all words of a search: in its name, its category or its tags. */
export function isFound({ name, category, tags }: Asset, wanted: string): boolean {
  const text = [name, category, ...tags].join(' ').toLowerCase()
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
}

/** Assets in rows of so many, under their categories; categories by their names, assets as they lie on the shelf. */
export function rowsByCategory(assets: readonly Asset[], columns: number): ShelfRow[] {
  const byCategory = new Map<string, Asset[]>()
  for (const asset of assets) {
    const known = byCategory.get(asset.category)
    if (known) known.push(asset)
    else byCategory.set(asset.category, [asset])
  }
  return [...byCategory]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([heading, own]) => [{ key: `category ${heading}`, heading }, ...rowsOf(own, columns)])
}

/** Assets in rows of so many. */
export function rowsOf(assets: readonly Asset[], columns: number): { readonly key: string; readonly assets: readonly Asset[] }[] {
  return Array.from({ length: Math.ceil(assets.length / columns) }, (_, row) => {
    const own = assets.slice(row * columns, (row + 1) * columns)
    return { key: own[0].id, assets: own }
  })
}

/** What a scroll bar and the borders beside it take at most, px. */
const BESIDE = 30

/**
 * How many columns of a least width fit into an element, and how to tell which it is. What scrolls around it is measured,
 * scroll bar and all: else the bar would come and go with the columns.
 */
export function useColumns<E extends HTMLElement>(least: number): readonly [React.RefObject<E | null>, number] {
  const element = useRef<E>(null)
  const [columns, setColumns] = useState(2)
  useLayoutEffect(() => {
    const own = element.current
    if (!own) return
    const around = own.closest<HTMLElement>('.drawer') ?? own
    const watch = new ResizeObserver(() => setColumns(Math.max(1, Math.floor((around.offsetWidth - BESIDE) / least))))
    watch.observe(around)
    return () => watch.disconnect()
  }, [least])
  return [element, columns]
}
