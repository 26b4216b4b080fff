import { useMemo } from 'react'
import { HEAVY_TRIANGLES } from '../../core/asset/measure.ts'
import type { Asset } from '../../core/meadow.ts'
import { leavesByNumber } from '../../core/posy/apart.ts'
import { posyGlb } from '../../formats/posy-glb.ts'
import { useField, useFieldState } from './field-context.ts'
import { useThumbnail } from './use-thumbnail.ts'

/** The form that a small picture shows: a lighter one where the model is heavy. */
function formOf({ blob, standIns }: Asset, triangles: number): string {
  return triangles > HEAVY_TRIANGLES ? (standIns[0] ?? blob) : blob
}

/** The rendered picture of an asset; of a posy, of all that it is made of. */
export function AssetThumb({ asset, size }: { readonly asset: Asset; readonly size: number }) {
  const { session } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const isPosy = asset.parts.length > 0
  const leaves = useMemo(() => (isPosy ? (leavesByNumber(assets).get(asset.number) ?? []) : []), [isPosy, assets, asset.number])
  // A posy's picture is another one when anything in it is.
  const form = isPosy ? `posy ${JSON.stringify(leaves.map(({ asset: { blob }, place, turn, size: sized }) => [blob, place, turn, sized]))}` : formOf(asset, asset.triangles[0])
  const url = useThumbnail(form, () => (isPosy ? posyGlb(leaves, (leaf) => formOf(leaf.asset, asset.triangles[0]), session.blob) : session.blob(form)))
  return (
    <span className="thumb" style={{ width: size, height: size }}>
      {url && <img src={url} alt="" width={size} height={size} />}
    </span>
  )
}
