package browser

import (
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
)

// Pull drags from one place of the page to another as a hand does: sixty small
// moves a second for as long as it takes.
func (p *Page) Pull(x0, y0, x1, y1 float64, takes time.Duration) error {
	left := func(params *input.DispatchMouseEventParams) {
		params.Button = input.MouseButtonLeft
		params.ClickCount = 1
	}
	if err := chromedp.Do(
		p.ctx,
		chromedp.MouseEvent(chromedp.MouseMoved, x0, y0),
		chromedp.MouseEvent(chromedp.MousePressed, x0, y0, left),
	); err != nil {
		return err
	}
	from := time.Now()
	for time.Since(from) < takes {
		f := time.Since(from).Seconds() / takes.Seconds()
		if err := chromedp.Do(p.ctx, chromedp.MouseEvent(chromedp.MouseMoved, x0+f*(x1-x0), y0+f*(y1-y0), left)); err != nil {
			return err
		}
		time.Sleep(time.Second / 60)
	}
	return chromedp.Do(p.ctx, chromedp.MouseEvent(chromedp.MouseReleased, x1, y1, left))
}

// Middle is where a thing's middle lies in the page.
func (p *Page) Middle(role, name string) (x, y float64, err error) {
	s, err := p.spot(role, name)
	return s.X + s.W/2, s.Y + s.H/2, err
}

// Focus puts the focus on a thing.
func (p *Page) Focus(role, name string) error {
	_, err := find[bool](p, role, name, `e.focus(); return true`)
	return err
}
