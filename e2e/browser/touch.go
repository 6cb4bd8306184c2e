package browser

import (
	"fmt"

	"github.com/chromedp/chromedp"
)

// finger is how wide a place must be that a finger finds, in px of the page.
const finger = 43.5

// Touch makes the tab a tablet: pressed by fingers.
func (p *Page) Touch(width, height int64) error {
	return chromedp.Do(
		p.ctx,
		chromedp.EmulateViewport(width, height, chromedp.EmulateScale(p.dots), chromedp.EmulateTouch, chromedp.EmulateMobile),
	)
}

// Tap presses the middle of a thing with a finger. It fails where a finger
// would not fit.
func (p *Page) Tap(role, name string) error {
	return p.press(role, name, func(s spot) (chromedp.Action[chromedp.Void], error) {
		if s.W < finger || s.H < finger {
			return nil, fmt.Errorf("the %s %q is %.0f x %.0f px, too small for a finger", role, name, s.W, s.H)
		}
		return chromedp.TapXY(s.X+s.W/2, s.Y+s.H/2), nil
	})
}

// TapIn taps a field and types on the keyboard that comes up.
func (p *Page) TapIn(label, text string) error {
	if err := p.Tap("field", label); err != nil {
		return err
	}
	return p.Fill(label, text)
}
