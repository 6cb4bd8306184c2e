import { MeasureInput } from './MeasureInput'
import { warmth } from './units'
import { useTemperature } from './useShop'

interface Props {
  label: string
  /** °C, as it is kept. */
  value: number | null
  onChange: (celsius: number | null) => void
  allowEmpty?: boolean
  compact?: boolean
  signed?: boolean
}

/** Takes a temperature in the shop's own degrees. */
export function WarmthInput({ value, onChange, ...rest }: Props) {
  const unit = useTemperature()
  return (
    <MeasureInput
      {...rest}
      kind="number"
      unit={unit}
      value={value === null ? null : warmth.shown(value, unit)}
      onChange={(v) => onChange(v === null ? null : warmth.kept(v, unit))}
    />
  )
}
