import { NativeSelect } from '@mantine/core'
import { api } from '../api/client'
import { useDesign } from './useDesign'

/** Which rubber the mould is poured of. */
export function RubberPicker() {
  const { design, set } = useDesign()
  const materials = api.useQuery('get', '/materials').data ?? []
  const rubbers = materials.filter((m) => m.kind === 'rubber')
  return (
    <NativeSelect
      size="xs"
      label="Rubber"
      value={design.rubber ?? ''}
      onChange={(e) => set({ rubber: e.currentTarget.value || null })}
      data={[{ value: '', label: 'choose a rubber…' }, ...rubbers.map((m) => ({ value: m.id, label: m.name }))]}
    />
  )
}
