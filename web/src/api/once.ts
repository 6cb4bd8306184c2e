import type { Middleware } from 'openapi-fetch'

const adds = /\/(jobs|materials|inhibition-tests|moulds|pulls)$/

/** Gives what is to be added a key of its own. Where no answer came, the same sent again has the same key, so that it is added once. */
export function addedOnce(): Middleware {
  const underWay = new Map<string, string>()
  const sent = new WeakMap<Request, string>()
  return {
    async onRequest({ request, schemaPath }) {
      if (request.method !== 'POST' || !adds.test(schemaPath)) return undefined
      const what = `${request.url} ${await request.clone().text()}`
      const key = underWay.get(what) ?? crypto.randomUUID()
      underWay.set(what, key)
      sent.set(request, what)
      request.headers.set('Idempotency-Key', key)
      return request
    },
    onResponse({ request, response }) {
      const what = sent.get(request)
      if (what && response.status < 500) underWay.delete(what)
      return undefined
    },
  }
}
