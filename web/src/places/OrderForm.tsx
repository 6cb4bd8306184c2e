import { Button, Textarea, TextInput } from '@mantine/core'
import { useState, type FormEvent } from 'react'
import type { Order } from '../api/client'
import { Left, Refused } from '../parts/Refused'
import { useKept } from '../parts/useKept'
import { useSending } from '../parts/useSending'
import classes from '../stages/plain.module.css'

interface Props {
  /** Of the form: what is typed is kept under it until it is sent. */
  name: string
  order?: Order
  submit: string
  onSubmit: (order: Order) => Promise<void>
}

/** The longest name that fits on a label. */
const longest = 120

const whole = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : NaN)

/** What is ordered: name, how many, by when. */
export function OrderForm({ name: form, order, submit, onSubmit }: Props) {
  const { value, put, clear, left } = useKept(form, {
    name: order?.name ?? '',
    quantity: order ? String(order.quantity) : '',
    due: order?.due ?? '',
    notes: order?.notes ?? '',
    set: order?.set ?? '',
    perSet: String(order?.perSet ?? 1),
  })
  const [tried, setTried] = useState(false)
  const { busy, refused, sending } = useSending()
  const count = whole(value.quantity)
  const each = whole(value.perSet)
  const name = value.name.trim()
  const nameError = !name ? 'Name it after the part' : name.length > longest ? `At most ${longest} characters` : null
  const eachError = !(each >= 1 && each <= 1000) ? 'A whole number of at least 1' : null
  const countError = !(count >= 1) ? 'A whole number of at least 1' : null

  async function send(e: FormEvent) {
    e.preventDefault()
    setTried(true)
    if (nameError || countError || eachError) return
    await sending(async () => {
      await onSubmit({ name, quantity: count, due: value.due || null, notes: value.notes, set: value.set.trim(), perSet: each })
      clear()
      setTried(false)
    })
  }

  return (
    <form className={classes.form} onSubmit={(e) => void send(e)} noValidate>
      <TextInput
        className={classes.wide}
        label="Name"
        description="of the part, as the shop speaks of it"
        value={value.name}
        error={tried && nameError}
        onChange={(e) => put({ name: e.currentTarget.value })}
        data-autofocus
      />
      <TextInput
        label="Quantity"
        inputMode="numeric"
        value={value.quantity}
        error={tried && countError}
        onChange={(e) => put({ quantity: e.currentTarget.value })}
      />
      <TextInput label="Due" type="date" value={value.due} onChange={(e) => put({ due: e.currentTarget.value })} />
      <TextInput
        label="Part of the set"
        description="leave empty for a part on its own"
        value={value.set}
        onChange={(e) => put({ set: e.currentTarget.value })}
      />
      {value.set.trim() && (
        <TextInput
          label="In every set"
          description="how many of this part"
          inputMode="numeric"
          value={value.perSet}
          error={tried && eachError}
          onChange={(e) => put({ perSet: e.currentTarget.value })}
        />
      )}
      <Textarea
        className={classes.wide}
        label="Notes"
        autosize
        minRows={2}
        maxRows={8}
        value={value.notes}
        onChange={(e) => put({ notes: e.currentTarget.value })}
      />
      <Refused problem={refused} />
      <div className={classes.wide}>
        <Button type="submit" loading={busy}>
          {submit}
        </Button>
        <Left left={left} clear={clear} />
      </div>
    </form>
  )
}
