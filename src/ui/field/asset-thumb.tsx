import { useEffect, useState } from 'react'
import { HEAVY_TRIANGLES } from '../../core/asset/measure.ts'
import type { Asset } from '../../core/meadow.ts'
import { thumbnail } from '../../scene/thumbnails.ts'
import { useField } from './field-context.ts'

/** The rendered picture of an asset. */
export function AssetThumb({ asset, size }: { readonly asset: Asset; readonly size: number }) {
  const { session } = useField()
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    let here = true
    const form = asset.triangles[0] > HEAVY_TRIANGLES ? asset.standIns[0] ?? asset.blob : asset.blob
    thumbnail(form, () => session.blob(form)).then(
      (made) => here && setUrl(made),
      () => undefined,
    )
    return () => {
      here = false
    }
  }, [asset.blob, asset.standIns, asset.triangles, session])
  return (
    <span className="thumb" style={{ width: size, height: size }}>
      {url && <img src={url} alt="" width={size} height={size} />}
    </span>
  )
}
