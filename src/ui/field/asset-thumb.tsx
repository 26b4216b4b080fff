import { HEAVY_TRIANGLES } from '../../core/asset/measure.ts'
import type { Asset } from '../../core/meadow.ts'
import { useField } from './field-context.ts'
import { useThumbnail } from './use-thumbnail.ts'

/** The rendered picture of an asset. */
export function AssetThumb({ asset, size }: { readonly asset: Asset; readonly size: number }) {
  const { session } = useField()
  const form = asset.triangles[0] > HEAVY_TRIANGLES ? (asset.standIns[0] ?? asset.blob) : asset.blob
  const url = useThumbnail(form, () => session.blob(form))
  return (
    <span className="thumb" style={{ width: size, height: size }}>
      {url && <img src={url} alt="" width={size} height={size} />}
    </span>
  )
}
