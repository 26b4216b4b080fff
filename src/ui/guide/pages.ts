import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { DRIVERS } from '../../core/fields/drivers/index.ts'
import { bySubject } from '../../core/fields/subjects.ts'
import { TOOL_STRIP } from '../../tools/index.ts'
import { PICTURE_KEYS, SHORTCUTS } from '../shortcuts.ts'

/** A short page of the guide. */
export interface GuidePage {
  /** Its place in addresses, and what controls name it by. */
  readonly key: string
  readonly title: string
  readonly text: readonly string[]
  /** The file of its picture, taken from the demo; pages that are lists have none. */
  readonly picture?: string
  /** What there is, with a word on each: made from the same lists as the interface. */
  readonly rows?: readonly (readonly [string, string])[]
}

type Told = Parameters<typeof bySubject>[0][number] & { readonly help: string }

const kinds = (all: readonly Told[]) => bySubject(all).flatMap((group) => group.kinds.map(({ label, help }) => [label, help] as const))

export const GUIDE_PAGES: readonly GuidePage[] = [
  {
    key: 'sentence',
    title: 'A planting is a sentence',
    picture: 'field',
    text: [
      'A meadow is a ground and a list of plantings. Each planting is a sentence: which assets, how many, where, and how they stand. Every bold value in it is live: drag it sideways, click it to type, or step it with the arrow keys. Shift makes finer steps, Alt coarser ones; a double click goes back to the first value, and a dot marks what differs from it.',
      'Any unit can be typed, and sums too: 150cm, 4 ft, 2*0.85, 1,5 m. What a field cannot take it says in its place, and keeps what it had.',
      'Plantings higher in the list take their room first. Drag a card by its handle, or press Alt with an arrow key on it, to change the order. A hidden planting still holds its room, unless its card says otherwise.',
    ],
  },
  {
    key: 'where',
    title: 'Say where it grows',
    picture: 'where',
    text: [
      'Under Where, add conditions: height, slope, water, patches and paths, other plantings, patchiness, images, a view, a formula. All must hold, or one is enough. Each thins out at a soft edge; distances can thin out all the way.',
      '“show” lays a condition over the ground as colour, with the share of the ground that it takes; “not” takes it the other way round. A condition that names nothing yet takes the next path, patch or beacon that is made.',
      'Conditions can be copied to another planting, and whole habitats kept under a name.',
    ],
  },
  {
    key: 'what',
    title: 'Mixes and shares',
    picture: 'mix',
    text: [
      'A planting can be of several assets. Shares are proportions: type 60, 30, 10 or 6, 3, 1, and they stay as they were typed; what part of the whole that is stands beside, with how many have grown. The borders of the bar can be dragged.',
      'Each of a mix can prefer a place. A preference shifts shares and empties nothing: elsewhere, as much of it grows as you say; at 0 % it grows there only.',
    ],
  },
  {
    key: 'how',
    title: 'How many, and how they stand',
    text: [
      'Say how many by a spacing, a density or an exact count; placed evenly, at random or as in nature, where they gather and leave gaps.',
      'Turn, size, lean and lift are from–to, each thrown by its own dice: to change one leaves the others as they are. “Follow the slope” goes from upright to flat on the ground; resting on the whole base, no corner floats.',
    ],
  },
  {
    key: 'order',
    title: 'Rows, rings, trails, beds, perches',
    picture: 'trail',
    text: [
      'What stands in order is a planting like any other. A row goes on by steps that move, turn and size: fences, stairs, spirals, walls. A ring closes by itself, or is an arc. A trail follows a path, on it, beside it, or from post to post as rails do. A bed fills a patch with rows. Perches are the faces, corners and edges of meshes.',
      'Rows and rings stand on a base, the small disc: click where it is to be, on the ground, a wall, a peg, or on another thing, with which it goes along. “Down to the ground” says how far each comes down; 0 % keeps the pattern’s own heights. A path leaves the ground where its points are raised.',
      'Each member keeps its number, so one of them can be moved or taken out by hand. Let go, they are singles; under “space out” what is chosen is gathered into the row or ring that it fits.',
    ],
  },
  {
    key: 'posies',
    title: 'Posies, and one master for all',
    picture: 'posy',
    text: [
      'Choose several things and gather them as a posy: it lies on the shelf, and is spread, placed and swapped like any asset. Open one, and its parts lie open where it stands: what is changed there is changed in all of them. A posy can be part of another, four deep.',
      'Change an asset on the shelf (the pen): its model, unit, pivot or a tint over all of it. All that stands of it follows, in one step of undo.',
    ],
  },
  {
    key: 'outlines',
    title: 'Patches and paths',
    picture: 'outlines',
    text: [
      'Press D to draw a patch, Shift+D for a path: click points on the ground, or draw with the button held. Enter ends the line, Backspace takes the last point back, Esc cancels.',
      'By keys: the arrow keys move a cross over the picture, Enter puts a point there, Enter again in the same place ends the line. Shift moves the cross finely, Alt far.',
      'One outline serves any number of plantings. Points are dragged, added between two, and taken out with Delete; Page Up and Page Down raise those of a path off the ground. GeoJSON and SVG can be brought in.',
    ],
  },
  {
    key: 'ground',
    title: 'Ground, water and meshes',
    picture: 'ground',
    text: [
      'Bring in a height file (PNG, GeoTIFF, ESRI ASCII grid, raw) with its real size, and set the water level: the drawer says how much of the ground is under water.',
      'Meshes can be grounds to grow on, obstacles to keep out of, or scenery. On a mesh, things grow from above, on every level, all over, or thrown from one side; what stands on it moves along with it.',
    ],
  },
  {
    key: 'nursery',
    title: 'The nursery',
    picture: 'nursery',
    text: [
      'Drop models on the picture (GLB, glTF, OBJ, PLY, STL), one or many at once: many are put right all alike, or each for itself. File unit, up axis, pivot and faces can be corrected, with a person of 1.75 m for scale.',
      'Lighter forms for far and fast display are made by themselves; what is handed off is always the full one.',
    ],
  },
  {
    key: 'drivers',
    title: 'Drivers and beacons',
    text: [
      'A driver lets the ground, a path, an image or a beacon change size, turn, lean, lift, tint or density from place to place: two values of the field, what each gives, and a falloff between.',
      'A beacon is a point with a reach. Beyond its reach it changes nothing, unless you say so; drag it, and what it drives follows.',
    ],
  },
  {
    key: 'why',
    title: 'Why here, why not here',
    picture: 'probe',
    text: [
      'Open a planting, press Y and click on the ground, or move the cross by the arrow keys and press Enter. What decides comes first: a condition with its number, the room that another planting has taken, even a hidden one, or a side of a mesh that nothing falls onto.',
      'A click on a line leads to its fields. The card itself says when nothing grows, and which condition leaves nothing.',
    ],
  },
  {
    key: 'keeping',
    title: 'Undo, keeping and handing off',
    picture: 'handoff',
    text: [
      'Every change can be undone, by name, without end. Meadows are kept in this browser by themselves; take one out as a .meadow file to keep it elsewhere. What was removed offers itself back.',
      'Hand off as GLB, CSV and other open forms; the checks beside say what a reader will find.',
    ],
  },
  {
    key: 'keys',
    title: 'Keys',
    text: ['H on any control says what it does; H again opens the page of the guide about it. In the picture: drag to turn, drag with the right button to move, wheel to come nearer, double click to fly to a point. One finger turns, two fingers move and zoom.'],
    rows: [...TOOL_STRIP.map(({ keys, help }) => [keys, help] as const), ...[...Object.values(SHORTCUTS), ...PICTURE_KEYS].map(({ keys, does }) => [keys, does] as const)],
  },
  { key: 'conditions', title: 'All conditions', text: ['What can say where a planting grows.'], rows: kinds(CONDITIONS.all) },
  { key: 'all-drivers', title: 'All drivers', text: ['What can change how it stands from place to place.'], rows: kinds(DRIVERS.all) },
]

/** The pages that hold all words of a search, those whose title holds them first. */
export function searchGuide(wanted: string): readonly GuidePage[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  const holds = (text: string) => words.every((word) => text.toLowerCase().includes(word))
  const found = GUIDE_PAGES.filter(({ title, text, rows = [] }) => holds([title, ...text, ...rows.flat()].join(' ')))
  return [...found.filter(({ title }) => holds(title)), ...found.filter(({ title }) => !holds(title))]
}
