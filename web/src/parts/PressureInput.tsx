import { MeasureInput } from './MeasureInput'
import { pressures } from './units'
import { usePressure } from './useShop'

interface Props {
  label: string
  /** kPa over the atmosphere, as it is kept. */
  value: number | null
  onChange: (kPa: number | null) => void
  allowEmpty?: boolean
}

/** Takes a pressure in the shop's own unit. */
export function PressureInput({ value, onChange, ...rest }: Props) {
  const unit = usePressure()
  return (
    <MeasureInput
      {...rest}
      kind="number"
      unit={unit}
      value={value === null ? null : Number((value * pressures[unit]).toFixed(2))}
      onChange={(v) => onChange(v === null ? null : v / pressures[unit])}
    />
  )
}
