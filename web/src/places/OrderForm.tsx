import { Button, Textarea, TextInput } from '@mantine/core'
import { useState, type FormEvent } from 'react'
import type { Order } from '../api/client'
import classes from '../stages/plain.module.css'

interface Props {
  order?: Order
  submit: string
  onSubmit: (order: Order) => void
}

/** What is ordered: name, how many, by when. */
export function OrderForm({ order, submit, onSubmit }: Props) {
  const [name, setName] = useState(order?.name ?? '')
  const [quantity, setQuantity] = useState(order ? String(order.quantity) : '')
  const [due, setDue] = useState(order?.due ?? '')
  const [notes, setNotes] = useState(order?.notes ?? '')
  const [set, setSet] = useState(order?.set ?? '')
  const [perSet, setPerSet] = useState(String(order?.perSet ?? 1))
  const [tried, setTried] = useState(false)
  const count = /^\d+$/.test(quantity.trim()) ? Number(quantity) : NaN
  const each = /^\d+$/.test(perSet.trim()) ? Number(perSet) : NaN
  const nameError = tried && !name.trim() ? 'Name it after the part' : null
  const eachError = tried && !(each >= 1 && each <= 1000) ? 'A whole number of at least 1' : null
  const countError = tried && !(count >= 1) ? 'A whole number of at least 1' : null

  function send(e: FormEvent) {
    e.preventDefault()
    setTried(true)
    if (name.trim() && count >= 1 && each >= 1 && each <= 1000)
      onSubmit({ name: name.trim(), quantity: count, due: due || null, notes, set: set.trim(), perSet: each })
  }

  return (
    <form className={classes.form} onSubmit={send} noValidate>
      <TextInput
        className={classes.wide}
        label="Name"
        description="of the part, as the shop speaks of it"
        value={name}
        error={nameError}
        onChange={(e) => setName(e.currentTarget.value)}
        data-autofocus
      />
      <TextInput
        label="Quantity"
        inputMode="numeric"
        value={quantity}
        error={countError}
        onChange={(e) => setQuantity(e.currentTarget.value)}
      />
      <TextInput label="Due" type="date" value={due} onChange={(e) => setDue(e.currentTarget.value)} />
      <TextInput
        label="Part of the set"
        description="leave empty for a part on its own"
        value={set}
        onChange={(e) => setSet(e.currentTarget.value)}
      />
      {set.trim() && (
        <TextInput
          label="In every set"
          description="how many of this part"
          inputMode="numeric"
          value={perSet}
          error={eachError}
          onChange={(e) => setPerSet(e.currentTarget.value)}
        />
      )}
      <Textarea
        className={classes.wide}
        label="Notes"
        autosize
        minRows={2}
        maxRows={8}
        value={notes}
        onChange={(e) => setNotes(e.currentTarget.value)}
      />
      <div className={classes.wide}>
        <Button type="submit">{submit}</Button>
      </div>
    </form>
  )
}
