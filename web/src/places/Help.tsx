import { Modal, Tabs } from '@mantine/core'
import { words } from '../parts/words'
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
  ['← → ↑ ↓, t, l', "on a gang's cavity: move it by 1 mm, turn it, lock it where it is"],
  ['← and →', 'on a drawing of a way up: turn it'],
  ['↑ and ↓', 'in the log, rack and stock: the same button of another row; Home and End the first and the last'],
  ['Space or Enter', 'at the bench: the step is done, the weight is kept'],
  ['Backspace', 'at the bench: back to the step before'],
  ['?', 'this list; out of a text Ctrl+/'],
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
