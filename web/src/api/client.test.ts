import { describe, expect, it } from 'vitest'
import { asProblem, ifMatch, Problem } from './client'

describe('what went wrong', () => {
  it('is told in the words of the server', () => {
    const p = asProblem({ title: 'That is too large', detail: 'At most 100 MB.', status: 413 })
    expect(p).toBeInstanceOf(Problem)
    expect([p.title, p.detail, p.status]).toEqual(['That is too large', 'At most 100 MB.', 413])
  })

  it('is a lost connection when there was no answer at all', () => {
    const p = asProblem(new TypeError('Failed to fetch'))
    expect(p.status).toBe(0)
    expect(p.detail).toContain('Try again')
  })

  it('is passed on unchanged', () => {
    const p = new Problem('a', 'b', 412)
    expect(asProblem(p)).toBe(p)
  })

  it('names the version that a change starts from', () => {
    expect(ifMatch(3)).toEqual({ 'If-Match': '"3"' })
  })
})
