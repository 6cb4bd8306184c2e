import createFetchClient from 'openapi-fetch'
import { expect, test } from 'vitest'
import { addedOnce } from './once'
import type { paths } from './schema'

test('a pull whose answer was lost is sent again under its key, the next pull under another', async () => {
  const keys: (string | null)[] = []
  let answer: () => Response = () => Response.json({}, { status: 201 })
  const client = createFetchClient<paths>({
    baseUrl: 'http://bathyform.test/api',
    fetch: (request) => {
      keys.push(request.headers.get('Idempotency-Key'))
      return Promise.resolve().then(answer)
    },
  })
  client.use(addedOnce())
  const log = (mouldId: string) =>
    client
      .POST('/moulds/{mouldId}/pulls', {
        params: { path: { mouldId } },
        body: { pulled: '2026-11-26', results: [{ cavity: 1, good: true }] },
      })
      .catch(() => undefined)
  answer = () => {
    throw new TypeError('Failed to fetch')
  }
  await log('a')
  answer = () => Response.json({ title: 'The records are away', status: 503 }, { status: 503 })
  await log('a')
  answer = () => Response.json({}, { status: 201 })
  await log('b')
  await log('a')
  await log('a')
  expect(keys[0]).toMatch(/^[0-9a-f-]{36}$/)
  expect(keys[1]).toBe(keys[0])
  expect(keys[2]).not.toBe(keys[0])
  expect(keys[3]).toBe(keys[0])
  expect(keys[4]).not.toBe(keys[0])
  await client.GET('/jobs')
  expect(keys[5]).toBeNull()
})
