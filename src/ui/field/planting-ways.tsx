import type { ReactNode } from 'react'

/** Ways of laying out that begin with a tool. */
export type ByHand = 'sow' | 'place' | 'strew' | 'row' | 'ring' | 'trail' | 'bed' | 'perch'

interface HandWaysProps {
  readonly byHand: ByHand | null
  /** Whether there are meshes to sow on. */
  readonly onMeshes: boolean
  /** Whether there is any mesh. */
  readonly anyMesh: boolean
  readonly onChoose: (how: ByHand) => void
}

/** What is done by hand, or stands in order. */
export function HandWays({ byHand, onMeshes, anyMesh, onChoose }: HandWaysProps) {
  return (
    <>
    <Way chosen={byHand === 'sow'} onChoose={() => onChoose('sow')} label="Sown by hand" help={onMeshes ? 'Painted with a brush, on the ground and on meshes.' : 'Painted with a brush.'}>
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      <path d="M5 33 C14 24 24 40 42 27" className="w-stroke" />
      {[[9, 30], [14, 29], [19, 32], [24, 34], [29, 34], [35, 31], [40, 28]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x} ${y}q-2 -5 -3 -7M${x} ${y}q0 -6 1 -9M${x} ${y}q2 -4 3 -6`} className="w-grass" />
      ))}
    </Way>
    <Way chosen={byHand === 'strew'} onChoose={() => onChoose('strew')} label="Strewn along a line" help="Along lines drawn on the ground.">
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      <path d="M4 37 C14 28 26 40 44 31" className="w-line" />
      {[[7, 33], [11, 36], [15, 31], [20, 35], [24, 37], [27, 32], [32, 37], [36, 33], [40, 35]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x - 2} ${y}q2 -4 4 0Z`} className="w-shell" />
      ))}
    </Way>
    <Way chosen={byHand === 'place'} onChoose={() => onChoose('place')} label="One by one" help="Placed where you click, as it is shown.">
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      <path d="M23 32q-5 -12 -8 -17M23 32q0 -14 2 -22M23 32q5 -10 9 -14" className="w-grass" />
      <path d="M12 8 H36 V35 H12Z" className="w-box" />
    </Way>
    <Way chosen={byHand === 'row'} onChoose={() => onChoose('row')} label="In a row" help="In rows, or in a box of them.">
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      {[6, 15, 24, 33, 42].map((x, k) => (
        <path key={x} d={`M${x} ${35 - k}v-${14 - k}`} className="w-post" />
      ))}
    </Way>
    <Way chosen={byHand === 'ring'} onChoose={() => onChoose('ring')} label="In a ring" help="Round a circle, or an arc.">
      <path d="M2 30 C16 22 26 30 46 24 V42 H2Z" className="w-near" />
      <ellipse cx="24" cy="31" rx="17" ry="7" className="w-line" />
      {[[7, 31], [12, 36], [24, 38], [36, 36], [41, 31], [36, 26], [24, 24], [12, 26]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x} ${y}v-7`} className="w-post" />
      ))}
    </Way>
    <Way chosen={byHand === 'trail'} onChoose={() => onChoose('trail')} label="Along a path" help="Posts, rails, planks, trees.">
      <path d="M2 30 C16 22 26 30 46 24 V42 H2Z" className="w-near" />
      <path d="M4 39 C14 28 28 42 45 28" className="w-line" />
      {[[5, 37], [12, 33], [20, 34], [28, 36], [36, 34], [43, 30]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x} ${y}v-9`} className="w-post" />
      ))}
    </Way>
    <Way chosen={byHand === 'bed'} onChoose={() => onChoose('bed')} label="In rows within a patch" help="Beds, orchards, paving.">
      <path d="M5 33 L13 22 L41 20 L44 33 L26 40Z" className="w-line" />
      {[[15, 25], [23, 24], [31, 24], [39, 24], [12, 30], [21, 30], [30, 30], [39, 29], [18, 36], [27, 37], [36, 34]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x} ${y}v-5`} className="w-post" />
      ))}
    </Way>
    {anyMesh && (
      <Way chosen={byHand === 'perch'} onChoose={() => onChoose('perch')} label="Perched on a mesh" help="At its corners, edges or the middles of its faces.">
        <path d="M10 22 L26 16 L40 22 L40 38 L24 42 L10 37Z M10 22 L24 27 L40 22 M24 27 V42" className="w-far" />
        {[[10, 22], [26, 16], [40, 22], [24, 27], [10, 37], [24, 42], [40, 38]].map(([x, y]) => (
          <path key={`${x} ${y}`} d={`M${x - 2} ${y}q2 -5 4 0Z`} className="w-shell" />
        ))}
      </Way>
    )}
    </>
  )
}

interface WayProps {
  readonly chosen: boolean
  readonly onChoose: () => void
  readonly label: string
  readonly help: string
  readonly children: ReactNode
}

/** One way of laying out, with a small drawing. */
export function Way({ chosen, onChoose, label, help, children }: WayProps) {
  return (
    <button type="button" role="radio" aria-checked={chosen} className="chooser-way" onClick={onChoose}>
      <svg viewBox="0 0 48 44" width="46" height="42" aria-hidden="true">
        {children}
      </svg>
      <span>
        <strong>{label}</strong>
        <span className="faded">{help}</span>
      </span>
    </button>
  )
}
