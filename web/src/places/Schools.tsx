import { NativeSelect } from '@mantine/core'
import { api, type Practice } from '../api/client'
import type { Change } from './PracticePlace'
import classes from './places.module.css'

/** Questions on which casters differ, each with the reason of the answer that this shop gives. */
export function Schools({ practice, put }: { practice: Practice; put: (part: Change) => void }) {
  const schools = api.useQuery('get', '/schools')
  const own = practice.schools ?? {}
  if (!schools.data) return null
  return (
    <>
      <h2 className={classes.section}>Where casters differ</h2>
      <p className={classes.why}>Each answer changes the steps at the bench, the hours and what is found against a mould.</p>
      <div className={classes.schools}>
        {schools.data.map((school) => {
          const chosen = school.choices.find((c) => c.key === own[school.key]) ?? school.choices[0]
          return (
            <NativeSelect
              key={school.key}
              label={school.question}
              description={chosen.why}
              inputWrapperOrder={['label', 'input', 'description']}
              value={chosen.key}
              onChange={(e) => {
                const answer = e.currentTarget.value
                put((now) => ({ schools: { ...now.schools, [school.key]: answer } }))
              }}
              data={school.choices.map((c) => ({ value: c.key, label: c.name }))}
            />
          )
        })}
      </div>
    </>
  )
}
