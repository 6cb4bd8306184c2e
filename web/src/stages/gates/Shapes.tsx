import { NativeSelect } from '@mantine/core'
import { MeasureInput } from '../../parts/MeasureInput'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

/** How sprue, runners and gates are shaped: a cone for a heavy head, half round or a strip in the parting, and what takes the first resin. */
export function Shapes() {
  const { design, set } = useDesign()
  const section = design.section ?? ''
  return (
    <div className={classes.pair}>
      <MeasureInput
        compact
        label="Sprue under the well"
        kind="length"
        value={design.sprueTop || design.sprueBore}
        onChange={(v) => v !== null && set({ sprueTop: v > design.sprueBore ? v : undefined })}
      />
      <NativeSelect
        size="xs"
        label="Runners and gates"
        value={section}
        onChange={(e) => {
          const chosen = (e.currentTarget.value || undefined) as typeof design.section
          set({ section: chosen, strip: chosen === 'strip' ? (design.strip ?? paper) : undefined })
        }}
        data={[
          { value: '', label: 'round' },
          { value: 'half', label: 'half round' },
          { value: 'strip', label: 'strip' },
        ]}
      />
      {section === 'strip' && (
        <MeasureInput
          compact
          label="Strip, thick"
          kind="length"
          value={design.strip ?? paper}
          onChange={(v) => v !== null && set({ strip: v })}
        />
      )}
      <MeasureInput
        compact
        label="Foot of the sprue"
        kind="length"
        value={design.sump ?? 0}
        onChange={(v) => v !== null && set({ sump: v > 0 ? v : undefined })}
      />
      <MeasureInput
        compact
        label="Blind channel"
        kind="length"
        value={design.blind ?? 0}
        onChange={(v) => v !== null && set({ blind: v > 0 ? v : undefined })}
      />
    </div>
  )
}

/** mm of card for a strip. */
const paper = 0.4
