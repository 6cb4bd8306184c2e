// Runs in the page before anything else: notes when a hand did something, when
// the server was asked, when the answer was painted, and how long the page's
// own thread was busy at a stretch.
window.__bench = { hand: [], asked: [], painted: [], busy: [], sent: [], drawn: [] }
window.__benchOpen = 0 // questions that are not answered yet
;(() => {
  const b = window.__bench
  const afterPaint = (then) =>
    requestAnimationFrame(() => {
      const c = new MessageChannel()
      c.port1.onmessage = () => then(performance.now())
      c.port2.postMessage(0)
    })
  for (const kind of ['pointerdown', 'pointermove', 'keydown', 'input'])
    window.addEventListener(kind, (e) => b.hand.push({ kind, at: e.timeStamp }), { capture: true })
  const plain = window.fetch.bind(window)
  window.fetch = async (what, how) => {
    window.__benchOpen++
    const asked = { path: new URL(what.url ?? what, location.href).pathname, sent: performance.now(), shown: 0 }
    const answer = await plain(what, how).finally(() => window.__benchOpen--)
    if (answer.headers.get('content-type') === 'text/event-stream') return answer
    b.asked.push(asked)
    answer
      .clone()
      .arrayBuffer()
      .then(() => setTimeout(() => afterPaint((t) => (asked.shown = t))), () => undefined)
    return answer
  }
  const Plain = window.EventSource
  window.EventSource = class extends Plain {
    constructor(...a) {
      super(...a)
      window.__benchOpen++
    }
    close() {
      if (this.readyState !== 2) window.__benchOpen--
      super.close()
    }
  }
  const send = XMLHttpRequest.prototype.send
  XMLHttpRequest.prototype.send = function (body) {
    this.upload.addEventListener('load', () => b.sent.push(performance.now()))
    send.call(this, body)
  }
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) b.busy.push({ at: e.startTime, long: e.duration })
  }).observe({ entryTypes: ['longtask'] })
  document.addEventListener('DOMContentLoaded', () => {
    let waiting = false
    new MutationObserver(() => {
      if (document.querySelector('canvas')?.dataset.frames && b.drawn.length === 0) afterPaint((t) => b.drawn.push(t))
      if (waiting) return
      waiting = true
      afterPaint((t) => {
        waiting = false
        b.painted.push(t)
      })
    }).observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true })
  })
})()
