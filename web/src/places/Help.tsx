import { Modal, Tabs } from '@mantine/core'
import classes from './Help.module.css'

const keys: [string, string][] = [
  ['Ctrl+K', 'find a job, stage, finding, action, mould, material or setting'],
  ['Alt+1 … Alt+7', 'stages, from Order to Pulls'],
  ['[ and ]', 'level down and up; with Shift by ten'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo and redo in the design'],
  ['← and →', 'in the section: move the plane; with Shift by ten'],
  ['t', 'in the section: turn the plane'],
  ['v', 'in the section: a vent at its highest place; Tab to a foot, arrows lead it, Delete takes it away'],
  ['← → ↑ ↓', 'in the 3D view: go round the part; with Shift further'],
  ['+ and −, Home', 'in the 3D view: closer, back, all of it'],
  ['v, Enter', 'in the 3D view: a cross that the arrows move; Enter presses the part under it'],
  ['← and →', 'on a drawing of a way up: turn it'],
  ['↑ and ↓', 'in the log, rack and stock: the same button of another row; Home and End the first and the last'],
  ['?', 'this list; out of a text Ctrl+/'],
]

/** The words of the trade as they are used here, one for each thing. */
const words: [string, string][] = [
  ['master', 'the part that is copied: as a mesh, or known by its measures'],
  ['mould', 'the rubber with its cavity, in one or more pieces'],
  ['piece, half, side piece', 'a body of rubber that comes away by itself; halves A and B meet at the parting'],
  ['parting, parting line', 'where two pieces meet, and the line it follows on the part'],
  ['seam', 'the mark that the parting line leaves on the casting'],
  ['flash', 'the thin skin of resin that runs into the parting'],
  ['draw', 'the way a piece is pulled off the part'],
  ['undercut, locked', 'rubber that cannot come away along the draw without being stretched'],
  ['draft', 'the slant of a wall against the draw'],
  ['key', 'a bump and its hollow that hold two pieces in register'],
  ['box', 'the walls that the rubber is poured into'],
  ['clearance', 'rubber between the part and the wall'],
  ['skin', 'the even layer of rubber of a shell mould, stiffened by its shell'],
  ['sprue, well, gate', 'the way in: funnel, channel and its mouth on the part'],
  ['vent', 'a thin channel that lets air out at a high spot'],
  ['blind channel', 'a dead end that takes the first resin, or feeds back what shrinks'],
  ['high spot, pocket', 'where air is shut in because all around it is lower'],
  ['sounding', 'how much lies below a height'],
  ['shot', 'the resin mixed for one pour'],
  ['pot life', 'from the first stir until it no longer runs'],
  ['pull', 'one pour of the whole mould, with what came out of each cavity'],
  ['demould', 'to take the casting out'],
  ['rack, retire', 'the moulds that the shop has; to take one out of use'],
  ['strike', 'to take a pull out of the count; it can be counted again'],
  ['bin', 'where a job goes that is taken off the list; it can come back'],
  ['clay blanket', 'the even layer of clay that stands where the skin of a shell mould will be'],
  ['off level', 'how far a parting line strays from its plane'],
  ['+x … −z up', 'the side of the part, as its file has it, that points up in the box'],
]

/** What the keys do and what the words mean. */
export function Help({ opened, close }: { opened: boolean; close: () => void }) {
  return (
    <Modal opened={opened} onClose={close} title="Keyboard and words" size="lg">
      <Tabs defaultValue="keys" keepMounted={false}>
        <Tabs.List aria-label="Help">
          <Tabs.Tab value="keys">Keyboard</Tabs.Tab>
          <Tabs.Tab value="words">Words</Tabs.Tab>
        </Tabs.List>
        <Tabs.Panel value="keys">
          <List of={keys} />
        </Tabs.Panel>
        <Tabs.Panel value="words">
          <List of={words} />
        </Tabs.Panel>
      </Tabs>
    </Modal>
  )
}

function List({ of }: { of: [string, string][] }) {
  return (
    <dl className={classes.list}>
      {of.map(([term, what]) => (
        <div key={`${term} ${what}`}>
          <dt>{term}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  )
}
