import { useEffect, useState } from 'react'
import type { Asset } from '../../core/meadow.ts'
import { thumbnail } from '../../scene/thumbnails.ts'
import { useField } from './field-context.ts'

/** The rendered picture of an asset. */
export function AssetThumb({ asset, size }: { readonly asset: Asset; readonly size: number }) {
  const { session } = useField()
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    let here = true
    thumbnail(asset.blob, () => session.blob(asset.blob)).then(
      (made) => here && setUrl(made),
      () => undefined,
    )
    return () => {
      here = false
    }
  }, [asset.blob, session])
  return (
    <span className="thumb" style={{ width: size, height: size }}>
      {url && <img src={url} alt="" width={size} height={size} />}
    </span>
  )
}
