import { Autocomplete } from '@mantine/core'
import { api } from '../api/client'
import { day } from './day'

/** The lot of a material: one of those on the shelf, those to be used first in front, or any other. */
export function LotInput({
  label,
  material,
  value,
  onChange,
  size,
}: {
  size?: 'lg'
  label: string
  material?: string
  value: string
  onChange: (lot: string) => void
}) {
  const stock = api.useQuery('get', '/stock', {}, { enabled: material !== undefined })
  const lots = stock.data?.materials.find((m) => m.materialId === material)?.lots ?? []
  const ends = new Map(lots.map((l) => [l.name, l.past ? 'past its day' : l.ends ? `use by ${day(l.ends)}` : '']))
  return (
    <Autocomplete
      label={label}
      size={size}
      value={value}
      maxLength={60}
      onChange={onChange}
      data={lots.filter((l) => (l.leftA?.value ?? 0) + (l.leftB?.value ?? 0) > 0.05).map((l) => l.name)}
      renderOption={({ option }) => (
        <span>
          {option.value} <span className="soft">{ends.get(option.value)}</span>
        </span>
      )}
    />
  )
}
