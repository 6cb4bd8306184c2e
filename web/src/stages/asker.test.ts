import { expect, test } from 'vitest'
import { Asker } from './asker'

/** A server that answers when it is told to. */
function server() {
  const asked: { question: number; answer: (a: string) => void; fail: () => void; left: boolean }[] = []
  const told: string[] = []
  const asker = new Asker<number, string>({
    put: (question, signal) =>
      new Promise((answer, fail) => {
        const entry = { question, answer, fail: () => fail(new Error('lost')), left: false }
        signal.addEventListener('abort', () => (entry.left = true))
        asked.push(entry)
      }),
    told: (q, a) => told.push(`${q} ${a}`),
    drawn: () => Promise.resolve(),
  })
  return { asker, asked, told, rest: () => new Promise((go) => setTimeout(go)) }
}

test('one question is on its way, and the newest follows it', async () => {
  const { asker, asked, told, rest } = server()
  for (const move of [1, 2, 3, 4]) asker.ask(move)
  expect(asked.map((a) => a.question)).toEqual([1])
  asked[0].answer('one')
  await rest()
  expect(asked.map((a) => a.question)).toEqual([1, 4])
  asked[1].answer('four')
  await rest()
  expect(told).toEqual(['1 one', '4 four'])
})

test('what is dropped is left, and not told any more', async () => {
  const { asker, asked, told, rest } = server()
  asker.ask(1)
  asker.ask(2)
  asker.drop()
  expect(asked[0].left).toBe(true)
  asked[0].answer('late')
  await rest()
  expect(told).toEqual([])
  expect(asked).toHaveLength(1)
  asker.ask(3)
  asked[1].answer('three')
  await rest()
  expect(told).toEqual(['3 three'])
})

test('after a question that failed the next is asked', async () => {
  const { asker, asked, told, rest } = server()
  asker.ask(1)
  asker.ask(2)
  asked[0].fail()
  await rest()
  asked[1].answer('two')
  await rest()
  expect(told).toEqual(['2 two'])
})
