import { yupResolver } from '@hookform/resolvers/yup'
import { useCallback, useState } from 'react'
import { useForm } from 'react-hook-form'
import { sentenceOf } from '../../document/problem.ts'
import { READ_OUTLINES } from '../../runner/io-refs.ts'
import { readFileAlone } from '../../runner/read-file.ts'
import type { ReadOutlines } from '../../formats/outline-format.ts'
import type { Placing } from '../../formats/outline-placing.ts'
import { boundsOf, couldBeDegrees, onGround, placeOutlines, placingOf } from '../../formats/outline-placing.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { notify } from '../../state/notices.ts'
import type { OutlinesForm } from '../forms/schemas.ts'
import { outlinesForm } from '../forms/schemas.ts'
import { Action } from '../parts/actions.tsx'
import type { Read } from '../parts/reading.tsx'
import { ReadingHead, useReading } from '../parts/reading.tsx'
import { Sheet } from '../parts/sheet.tsx'
import { useField, useMeadow } from './field-context.ts'
import { addOutlines } from '../../document/edits/outlines.ts'

interface OutlineImportProps {
  readonly file: File
  readonly onClose: () => void
}

/** Reads patches and paths of a file and adds them as one step; asks where they belong when the file leaves that open. */
export function OutlineImport({ file, onClose }: OutlineImportProps) {
  const { session, tool } = useField()
  const { ground } = useMeadow()
  const { register, setValue, handleSubmit, watch } = useForm<OutlinesForm>({ resolver: yupResolver(outlinesForm), defaultValues: { placing: 'middle' } })
  const [refused, setRefused] = useState<string | null>(null)

  const take = useCallback(
    ({ outlines, notes }: ReadOutlines, chosen: Placing) => {
      const first = addOutlines(session, 'Bring in outlines', placeOutlines(outlines, chosen, session.store.getState().history.meadow.ground, file.name))
      if (first) tool.setState({ active: 'look', selected: first, point: null })
      const count = outlines.length
      if (first) notify('word', [`${count === 1 ? 'One outline is' : `${count} outlines are`} brought in from “${file.name}”.`, ...notes].join(' '))
      onClose()
    },
    [session, tool, file, onClose],
  )
  const reading = useReading(
    file.name,
    useCallback<Read<ReadOutlines | null>>(
      async (options) => {
        const found = await readFileAlone(enginePool(), READ_OUTLINES, file, {}, options)
        const sure = placingOf(found, session.store.getState().history.meadow.ground)
        if (sure) {
          take(found, sure)
          return null
        }
        setValue('placing', couldBeDegrees(boundsOf(found.outlines)) && found.coordinates.of !== 'middle' ? 'degrees' : 'middle')
        return found
      },
      [file, session, take, setValue],
    ),
  )
  const read = reading.output

  function takeAsChosen(found: ReadOutlines, placing: Placing) {
    try {
      take(found, placing)
    } catch (error) {
      setRefused(sentenceOf(error, 'Bringing in the outlines'))
    }
  }

  const choices = read ? waysFor(read, ground) : []
  return (
    <Sheet
      title="Bring in outlines"
      onClose={onClose}
      onSubmit={() => read && void handleSubmit(({ placing }) => takeAsChosen(read, placing))()}
      foot={
        <>
          <Action onClick={onClose}>Cancel</Action>
          {read && (
            <Action main type="submit">
              Bring them in
            </Action>
          )}
        </>
      }
    >
      <ReadingHead fileName={file.name} reading={refused ? { ...reading, problem: refused } : reading} kept="Nothing was changed." />
      {read && (
        <>
          <p>
            The {read.outlines.length === 1 ? 'outline' : `${read.outlines.length} outlines`} of <em>{file.name}</em> {extentWords(read)}, and {whereWords(read, ground)}. Where do they belong?
          </p>
          <div role="radiogroup" aria-label="Where the outlines belong">
            {choices.map(({ placing: one, label, help }) => (
              <label key={one} className={one === watch('placing') ? 'form chosen' : 'form'}>
                <input type="radio" value={one} {...register('placing')} />
                <span>
                  <strong>{label}</strong>
                  <span className="faded">{help}</span>
                </span>
              </label>
            ))}
          </div>
        </>
      )}
    </Sheet>
  )
}

type Ground = Parameters<typeof placingOf>[1]

function waysFor({ outlines, coordinates }: ReadOutlines, ground: Ground): { readonly placing: Placing; readonly label: string; readonly help: string }[] {
  const box = boundsOf(outlines)
  const beside = (placing: Placing) => (onGround(outlines, placing, ground) ? '' : ' They would lie beside the ground.')
  return [
    ...(couldBeDegrees(box) && coordinates.of !== 'middle'
      ? [{ placing: 'degrees' as const, label: 'They are degrees', help: 'Turned into metres at their own latitude, and put in the middle of the ground.' }]
      : []),
    { placing: 'middle', label: 'Put them in the middle', help: 'One unit is a metre; what is in the middle of the file comes to the middle of the ground.' },
    ...(ground.georeference
      ? [{ placing: 'reference' as const, label: 'They have the ground’s reference', help: `Placed as the ground’s own coordinates${ground.georeference.system ? ` (${ground.georeference.system})` : ''} say.${beside('reference')}` }]
      : []),
    { placing: 'numbers', label: 'Use the numbers as they are', help: `Metres from the middle of the ground.${beside('numbers')}` },
  ]
}

function extentWords({ outlines }: ReadOutlines): string {
  const { x0, x1, y0, y1 } = boundsOf(outlines)
  const short = (value: number) => Number(value.toPrecision(7)).toLocaleString('en', { maximumFractionDigits: 4 })
  return `${outlines.length === 1 ? 'lies' : 'lie'} between ${short(x0)}, ${short(y0)} and ${short(x1)}, ${short(y1)}`
}

function whereWords({ coordinates }: ReadOutlines, { georeference }: Ground): string {
  if (coordinates.of === 'middle') return 'so beside the ground'
  const file = coordinates.of === 'system' ? `are in ${coordinates.system}` : 'the file does not say in which reference'
  const own = georeference ? (georeference.system ? `the ground is in ${georeference.system}` : 'the ground’s own reference has no name') : 'the ground does not know where on earth it lies'
  return `${file}; ${own}`
}
