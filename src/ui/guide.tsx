import { Link } from 'react-router'
import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { TOOL_STRIP } from '../tools/index.ts'
import { PICTURE_KEYS, SHORTCUTS } from './shortcuts.ts'

/** The guide as a page of its own. */
export function Guide() {
  return (
    <main className="guide">
      <p>
        <Link className="text-action" to="/">
          To the gate
        </Link>
      </p>
      <h1>Guide</h1>
      <GuideText />
    </main>
  )
}

/** Short help, made from the same lists as the interface itself. */
export function GuideText() {
  return (
    <>
      <p>
        A meadow is a ground and a list of plantings. A planting is a sentence: which assets, how many, where, and how they stand. Every
        bold value in it is live: drag it sideways, click it to type (<code>150cm</code>, <code>4 ft</code>, <code>2*0.85</code>), or step it
        with the arrow keys. Shift makes finer steps, Alt coarser ones; a double click goes back to the first value.
      </p>
      <p>
        Plantings higher in the list take their room first. Drag a card by its handle to change the order, or press Alt with an arrow key on
        it.
      </p>
      <h2>Keys</h2>
      <table>
        <tbody>
          {[...TOOL_STRIP.map(({ keys, help }) => ({ keys, does: help })), ...Object.values(SHORTCUTS), ...PICTURE_KEYS].map((shortcut) => (
            <tr key={shortcut.does}>
              <td>
                <kbd>{shortcut.keys}</kbd>
              </td>
              <td>{shortcut.does}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>In the picture: drag to turn, drag with the right button to move, wheel to come nearer, double click to fly to a point.</p>
      <h2>Conditions</h2>
      <table>
        <tbody>
          {CONDITIONS.all.map((condition) => (
            <tr key={condition.kind}>
              <td>{condition.label}</td>
              <td>{condition.help}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
