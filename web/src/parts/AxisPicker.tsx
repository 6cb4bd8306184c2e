import { NativeSelect } from '@mantine/core'
import type { Axis } from '../api/client'
import { axes } from './axes'

interface Props {
  label: string
  value: Axis
  onChange: (axis: Axis) => void
}

/** One of the six ways along the master's axes. */
export function AxisPicker({ label, value, onChange }: Props) {
  return <NativeSelect size="xs" label={label} value={value} data={axes} onChange={(e) => onChange(e.currentTarget.value as Axis)} />
}
