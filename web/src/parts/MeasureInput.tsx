import { TextInput } from '@mantine/core'
import { useEffect, useRef, useState } from 'react'
import { asProblem, client, type Kind } from '../api/client'
import { pending } from './pending'
import { plainly, typed, unitOf } from './units'
import { useSystem } from './useShop'

interface Props {
  label: string
  kind: Kind
  value: number | null
  onChange: (value: number | null) => void
  /** What was there is typed over; the new value comes when it has been read. */
  onEdit?: () => void
  description?: string
  allowEmpty?: boolean
  compact?: boolean
  unit?: string
  /** A place may lie on either side of the middle. */
  signed?: boolean
}

/**
 * Takes a measure the way casters write it ("3 7/8 in", "2 lb 3 oz"). The
 * server reads it, so that there is one understanding of what was typed.
 */
export function MeasureInput({ label, kind, value, onChange, onEdit, description, allowEmpty, compact, unit, signed }: Props) {
  const system = useSystem()
  const [text, setText] = useState('')
  const [error, setError] = useState<string | null>(null)
  const editing = useRef(false)
  const [typing, setTyping] = useState(false)

  useEffect(() => {
    if (!editing.current) setText(value === null ? '' : typed(value, kind, system))
  }, [value, kind, system])

  async function settle() {
    if (!editing.current) return
    editing.current = false
    setTyping(false)
    if (value !== null && text === typed(value, kind, system)) {
      setError(null)
      return
    }
    if (text.trim() === '' && allowEmpty) {
      setError(null)
      onChange(null)
      return
    }
    const reading = read()
    pending(reading)
    await reading
  }

  /** Has the server read what was typed; false where it cannot be read. */
  async function read(): Promise<boolean> {
    try {
      const minus = signed && /^\s*[-−]/.test(text)
      const { data } = await client.POST('/measures', { body: { kind, text: minus ? text.replace(/[-−]/, '') : text } })
      setError(null)
      if (data) {
        const read = minus ? -data.value : data.value
        take(read)
      }
      return true
    } catch (thrown) {
      const p = asProblem(thrown)
      const plain = p.status === 0 ? plainly(text, kind, system) : null
      if (plain === null) {
        setError(p.status === 0 ? 'The server does not answer: write a plain number, without a unit' : p.detail)
        return false
      }
      setError(null)
      take(plain)
      return true
    }
  }

  function take(read: number) {
    if (read === value) setText(typed(read, kind, system))
    else onChange(read)
  }

  return (
    <TextInput
      label={label}
      description={description}
      size={compact ? 'xs' : 'sm'}
      value={text}
      error={error}
      data-measure={typing ? 'typing' : 'settled'}
      rightSection={<span className="soft">{unit ?? unitOf(kind, system)}</span>}
      rightSectionWidth={kind === 'density' ? 52 : 44}
      rightSectionPointerEvents="none"
      onChange={(e) => {
        editing.current = true
        setTyping(true)
        setText(e.currentTarget.value)
        onEdit?.()
      }}
      onBlur={() => void settle()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') void settle()
      }}
    />
  )
}
