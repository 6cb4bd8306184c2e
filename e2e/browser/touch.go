package browser

import "github.com/chromedp/chromedp"

// Touch makes the tab a tablet: pressed by fingers.
func (p *Page) Touch(width, height int64) error {
	return chromedp.Do(p.ctx, chromedp.EmulateViewport(width, height, chromedp.EmulateTouch, chromedp.EmulateMobile))
}
