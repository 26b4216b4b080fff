import { useEffect, useRef, useState } from 'react'
import { thumbnail } from '../../scene/thumbnails.ts'

/** The small picture of a GLB by its name, as long as it is looked at; null until it is made, or without a name. */
export function useThumbnail(name: string | null, read: () => Promise<Uint8Array<ArrayBuffer>>): string | null {
  const [url, setUrl] = useState<string | null>(null)
  const reading = useRef(read)
  useEffect(() => {
    reading.current = read
  })
  useEffect(() => {
    if (name === null) return
    let here = true
    const picture = thumbnail(name, () => reading.current())
    picture.url.then(
      (made) => here && setUrl(made),
      () => undefined,
    )
    return () => {
      here = false
      picture.leave()
    }
  }, [name])
  return url
}
